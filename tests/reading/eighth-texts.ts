import type { SampleText } from './texts.ts';

/** An eighth set: plain course-page language once more, every kind of limit at least once. */
export const eighthTexts: readonly SampleText[] = [
  {
    text: 'Submit a single video file in MP4 format. Duration: between 3 and 5 minutes. Maximum file size: 400 MB. Resolution: 1080p.',
    asks: ['format mp4', 'length 3:00..5:00', 'size ..400MB', 'lines =1080', 'count video 1..1'],
  },
  {
    text: 'Your video should not be longer than ninety seconds or larger than eighty megabytes.',
    asks: ['length ..1:30', 'size ..80MB'],
  },
  {
    text: 'Record audio only. Minimum three minutes, maximum five. Save it as MP3 with the name Firstname_Surname_Podcast.',
    asks: ['length 3:00..5:00', 'format mp3', 'name Firstname_Surname_Podcast'],
  },
  {
    text: 'Photos of your sculpture: at least four, no more than eight. PNG or JPG. Not over 3 MB each. Landscape orientation.',
    asks: ['count photo 4..8', 'format png|jpeg', 'size ..3MB', 'held landscape'],
  },
  {
    text: 'The final recording must be mono, sampled at 44.1 kHz, normalised to -16 LUFS with peaks below -1 dBTP.',
    asks: ['channels 1', 'rate =44100', 'loud -16', 'peak -1'],
  },
  {
    text: 'We only accept H.264 video. HEVC will not play on our system. 30fps.',
    asks: ['vcodec h264 !hevc', 'fps =30'],
  },
  {
    text: 'Hand in by 23:59 on Sunday 6 December 2026. Late submissions will not be marked. Three attempts allowed.',
    asks: ['due 2026-12-06T23:59', 'late no', 'attempts 3'],
  },
  {
    text: 'Make sure there is no GPS data in your pictures and that each photograph is sharp.',
    asks: ['noplace', 'sharp'],
  },
  {
    text: 'The routine must be filmed in one take, from start to finish, with the whole body in frame at all times. 1 to 1.5 minutes.',
    asks: ['onetake', 'whole', 'length 1:00..1:30'],
  },
  {
    text: 'Please include a short written note describing your inspiration and list the names of everyone in your group.',
    asks: ['note', 'who'],
  },
  {
    text: 'Deliverables: 1 video, 2 photos, 1 PDF. Video under 1 minute. Photos at least 1920 px wide. Everything together under 150 MB.',
    asks: [
      'count video 1..1',
      'count photo 2..2',
      'count document 1..1',
      'format pdf',
      'length ..1:00 [video]',
      'width 1920.. [photo]',
      'total ..150MB',
    ],
  },
  { text: 'Aspect ratio 4:3 or 16:9, whichever suits. At least 24 frames per second.', asks: ['fps 24..'] },
  {
    text: 'Scan at 300 DPI on A3 paper. TIFF preferred, PDF acceptable.',
    asks: ['dpi 300 297x420', 'format tiff|pdf'],
  },
  {
    text: 'The video can have sound or be silent. It should be approximately two minutes long.',
    asks: ['length ~2:00'],
  },
  {
    text: 'Do not include any background music. The audio must be recorded live.',
    asks: [],
    wishes: ['Do not include any background music'],
  },
  {
    text: 'You must submit either a performance video or a set of five photographs with a commentary.',
    asks: ['count photo 5..5', 'note'],
  },
  {
    text: 'Keep your entry to 2 minutes and 30 seconds maximum. Anything longer will be disqualified.',
    asks: ['length ..2:30'],
  },
  {
    text: 'The previous limit of 100MB no longer applies. Files may now be up to 250MB.',
    asks: ['size ..250MB'],
  },
  {
    text: 'Please film vertically. No longer than 1 min. Use WebM or MP4. Call it class-name-date.',
    asks: ['held portrait', 'length ..1:00', 'format webm|mp4', 'name class-name-date'],
  },
  {
    text: 'Play at least 32 bars at a tempo of 120 bpm or faster. Upload an audio file smaller than 12 MB.',
    asks: ['size ..12MB'],
  },
  {
    text: 'Your portrait photograph should be 2400 by 3000 pixels, saved as a JPEG no bigger than 5 megabytes.',
    asks: ['width =2400', 'height =3000', 'format jpeg', 'size ..5MB'],
  },
  { text: 'Due date: 12/12/2026. One resubmission is permitted.', asks: ['due 2026-12-12'] },
  {
    text: 'Time: two to two and a half minutes. Sound: essential. Camera: static. Format: anything but AVI.',
    asks: ['length 2:00..2:30', 'sound yes', 'format !avi'],
  },
  {
    text: 'We expect a video of no fewer than 5 and no more than 8 minutes; ideally filmed in landscape at 1080p or higher.',
    asks: ['length 5:00..8:00', 'held landscape?', 'lines 1080..?'],
  },
  {
    text: 'All work must be your own. Sign and attach the declaration. 20 points.',
    asks: ['own', 'points 20'],
  },
  {
    text: 'Compress your clip to under 10MB before uploading. GIFs are not accepted.',
    asks: ['size ..10MB', 'format !gif'],
  },
];
