import type { SampleText } from './texts.ts';

/** A sixth set, for a last look at how the reader does on what it has not seen. */
export const sixthTexts: readonly SampleText[] = [
  {
    text: 'Make a video of your hand-jive routine. It needs to be more than 45 seconds but less than 75. Landscape. MP4.',
    asks: ['length 0:45..1:15', 'held landscape', 'format mp4'],
  },
  {
    text: 'Attach a photo of your mask. JPEG or PNG, max 4 megabytes. The photo has to be at least 1200px tall.',
    asks: ['format jpeg|png', 'size ..4MB', 'height 1200..'],
  },
  {
    text: 'Composition task: 16–32 bars, any key. Export an audio file (MP3, at least 192 kbps) and a PDF score. Audio 2 minutes max.',
    asks: ['format mp3', 'format pdf', 'length ..2:00'],
  },
  {
    text: 'The upload limit is 200 megabytes so please compress your video before handing it in.',
    asks: ['size ..200MB'],
  },
  { text: 'Solo: 3 to 4 mins. Duet: 4 to 5 mins.', asks: [] },
  {
    text: 'Your vlog should be around five minutes. Talk to the camera. Hold the phone upright so that it works on a phone screen.',
    asks: ['length ~5:00', 'held portrait'],
  },
  {
    text: 'Photograph your pot from three sides; hand in 3 images in total, each below 2 MB.',
    asks: ['count photo 3..3', 'size ..2MB'],
  },
  { text: 'Name files like this: Surname_Initial_Task3', asks: ['name Surname_Initial_Task3'] },
  {
    text: 'You must hand this in before 12 noon on Friday 4th December. Work handed in after that gets no marks.',
    asks: ['due 2026-12-04T12:00', 'late no'],
  },
  {
    text: 'Aim for a file of about 50MB, definitely not over 100MB.',
    asks: ['size ..50MB?', 'size ..100MB'],
  },
  {
    text: 'Audition clip: thirty-two bars, uncut, max two minutes, sent as a MOV.',
    asks: ['onetake', 'length ..2:00', 'format mov'],
  },
  { text: 'The deadline has moved from 27 November to 4 December at 4pm.', asks: ['due 2026-12-04T16:00'] },
  {
    text: 'Film in slow motion (at least 120 frames per second) and send a clip of 5 to 8 seconds.',
    asks: ['fps 120..', 'length 0:05..0:08'],
  },
  {
    text: 'Record on your phone. The voice memo app is fine. M4A, WAV or MP3 accepted; 6 minutes is the maximum.',
    asks: ['format m4a|wav|mp3', 'length ..6:00'],
  },
  {
    text: 'Photos must be taken in landscape orientation and saved as JPEGs with a resolution of at least 3000 x 2000 pixels.',
    asks: ['held landscape', 'format jpeg', 'width 3000..', 'height 2000..'],
  },
  {
    text: 'Tell us who played what. One video per band, up to 8 minutes, up to 1 GB.',
    asks: ['who', 'count video 1..1', 'length ..8:00', 'size ..1000MB'],
  },
  {
    text: 'No phones in portrait mode! Clips shorter than 10 seconds or longer than 30 seconds will not be marked.',
    asks: ['held landscape', 'length 0:10..0:30'],
  },
  {
    text: 'For the dance on film project, your final edit must be between 2:30 and 3:30 including titles and credits.',
    asks: ['length 2:30..3:30'],
  },
  {
    text: 'Please do not send videos by email. Upload them here as MP4. If your file is larger than 2 GB, split it.',
    asks: ['format mp4'],
  },
  {
    text: 'Include a declaration that this is your own unaided work. Maximum of 10 images. 72 dpi is fine.',
    asks: ['own', 'count photo 0..10'],
  },
  {
    text: 'Read the poem on page 32 (24 lines) to camera in a single take; speak up. Anything between one and one and a half minutes.',
    asks: ['onetake', 'length 1:00..1:30'],
  },
  {
    text: 'Art: 1 final outcome + 4 development photos, jpg, <5mb each.',
    asks: ['count photo 4..4', 'format jpeg', 'size ..5MB'],
  },
  {
    text: "It's fine to go a few seconds over two minutes, but three minutes is the absolute limit.",
    asks: ['length ..3:00'],
  },
  {
    text: 'Your showreel: 1 min 30 s exactly, 1080p, 25 fps, H.264 MP4, stereo AAC, max. 150 MB.',
    asks: [
      'length =1:30',
      'lines =1080',
      'fps =25',
      'vcodec h264',
      'format mp4',
      'channels 2',
      'scodec aac',
      'size ..150MB',
    ],
  },
  {
    text: 'The test will take place in room 5 at 10:45. You have 15 minutes to prepare and 5 minutes to perform. Bring two copies of your music.',
    asks: [],
  },
  {
    text: 'Sprint start analysis. Camera side-on, 5 metres away, tripod. 3 attempts filmed, pick the best one and upload it. mp4. <100mb.',
    asks: ['format mp4', 'size ..100MB'],
  },
  {
    text: 'Minimum length: two minutes. There is no maximum length, but please be sensible. File size must stay under 300 MB.',
    asks: ['length 2:00..', 'size ..300MB'],
  },
  {
    text: 'Send me either a WAV or a FLAC, whichever is easier, nothing lossy. Sample rate 48k.',
    asks: ['format wav|flac'],
    wishes: ['nothing lossy'],
  },
  {
    text: 'Hand in by Sunday evening. Two photographs: one in daylight, one by lamplight. Don’t edit them.',
    asks: ['due 2026-11-29', 'count photo 2..2'],
  },
  {
    text: 'Each group hands in one film. Four minutes, thirty seconds either way. Credit everybody.',
    asks: ['count video 1..1', 'length 3:30..4:30', 'who'],
  },
];
