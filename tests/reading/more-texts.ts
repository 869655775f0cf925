import type { SampleText } from './texts.ts';

/** A second set, written after the first reader ran, to tell learning by heart from reading. */
export const moreTexts: readonly SampleText[] = [
  { text: 'Files over 50MB will be rejected. MP4 or WebM.', asks: ['size ..50MB', 'format mp4|webm'] },
  { text: "Anything longer than 4 minutes won't be watched.", asks: ['length ..4:00'] },
  {
    text: 'Please upload 3–5 photos of your model from different angles. JPG only. Each photo must be at least 3000 pixels on its longest edge and smaller than 8 MB.',
    asks: ['count photo 3..5', 'format jpeg', 'long 3000..', 'size ..8MB'],
  },
  {
    text: 'The clip cannot exceed 45 seconds, and it cannot be less than 15 seconds.',
    asks: ['length 0:15..0:45'],
  },
  {
    text: 'Thirty to forty-five seconds of footage is all that I need, shot at a minimum of 1080p.',
    asks: ['length 0:30..0:45', 'lines 1080..'],
  },
  { text: 'A maximum file size of 2 GB applies to all uploads.', asks: ['size ..2000MB'] },
  { text: 'The video should be 3 minutes long (plus or minus 15 seconds).', asks: ['length 2:45..3:15'] },
  {
    text: '2 mins max, 1 min min. Landscape. No music added afterwards.',
    asks: ['length 1:00..2:00', 'held landscape'],
    wishes: ['No music added afterwards'],
  },
  {
    text: 'Minimum resolution 1280x720. Frame rate: 30 fps.',
    asks: ['width 1280..', 'height 720..', 'fps =30'],
  },
  { text: 'Deadline: Friday 4pm. Late work will not be marked.', asks: ['due 2026-11-27T16:00', 'late no'] },
  { text: 'Hand in before 9am on Thursday 3 December.', asks: ['due 2026-12-03T09:00'] },
  {
    text: 'Upload your audio as a 320 kbps MP3. The track must run between 3 min 30 s and 4 min.',
    asks: ['format mp3', 'length 3:30..4:00'],
  },
  {
    text: 'Name your file with your candidate number followed by an underscore and your surname.',
    asks: ['name CandidateNumber_Surname'],
  },
  {
    text: 'For assessment we require: one (1) video file, format .mp4, duration 4–6 min, resolution 1920×1080.',
    asks: ['count video 1..1', 'format mp4', 'length 4:00..6:00', 'width =1920', 'height =1080'],
  },
  {
    text: 'We accept .jpg, .png and .tif files of up to ten megabytes.',
    asks: ['format jpeg|png|tiff', 'size ..10MB'],
  },
  {
    text: 'Record yourself playing both set pieces. Each recording should be one unedited take. Audio only is fine (WAV or MP3), video is fine too (MP4).',
    asks: ['onetake', 'format wav|mp3', 'format mp4'],
  },
  {
    text: 'Make sure your face and hands are visible at all times. Your phone must be horizontal.',
    asks: ['view face+hands', 'held landscape'],
    wishes: [],
  },
  { text: "Your dance should be no shorter than 1'30 and no longer than 2'00.", asks: ['length 1:30..2:00'] },
  {
    text: 'Take a photo of each page. PDF please, all pages in one file, max 15MB.',
    asks: ['format pdf', 'size ..15MB'],
  },
  {
    text: 'Stick to 60 to 90 seconds. Keep the file below 80 megs. Landscape, please!',
    asks: ['length 1:00..1:30', 'size ..80MB', 'held landscape'],
  },
  {
    text: 'You get three attempts. Submissions close on 11 December at 5.30 pm.',
    asks: ['attempts 3', 'due 2026-12-11T17:30'],
  },
  {
    text: 'There is no upper limit on how long your film is, but it needs to be at least five minutes.',
    asks: ['length 5:00..'],
  },
  {
    text: 'Film at 60fps in 1080p, sideways, on a tripod. 20 seconds per throw. Four clips.',
    asks: ['fps =60', 'lines =1080', 'held landscape', 'length =0:20', 'count video 4..4'],
  },
  {
    text: 'The sound must not distort. Record at 48 kHz. Peaks should stay below -3 dBFS.',
    asks: ['noclip', 'rate =48000', 'peak -3'],
  },
  { text: 'Aim for two minutes. Three is the absolute maximum.', asks: ['length =2:00?', 'length ..3:00'] },
  { text: 'I said 50 MB last week. That was wrong: the limit is 75 MB.', asks: ['size ..75MB'] },
  {
    text: 'Send either a video of up to 3 minutes or six still images.',
    asks: ['length ..3:00', 'count photo 6..6'],
  },
  {
    text: 'Max. length: 8 min. Max. size: 1 GB. File type: MOV/MP4. Aspect ratio: 16:9. Orientation: landscape.',
    asks: ['length ..8:00', 'size ..1000MB', 'format mov|mp4', 'aspect 16:9', 'held landscape'],
  },
  { text: 'Include a short written commentary and the names of your group members.', asks: ['note', 'who'] },
  {
    text: 'Your photograph has to be sharp, evenly lit, and show the entire painting including its edges.',
    asks: ['sharp', 'whole'],
  },
  {
    text: 'Please no portrait videos. No filters. No longer than 1 minute 15 seconds.',
    asks: ['held landscape', 'length ..1:15'],
    wishes: ['No filters'],
  },
  {
    text: 'Bring £3 for the trip. Meet at 8:45 by the hall. The exhibition is open from 10:00 to 16:00 and has 120 works.',
    asks: [],
  },
  { text: 'Read chapter 4 (pages 55–72), answer questions 1 to 6, and bring 2 pencils.', asks: [] },
  {
    text: 'Learn the scale of D major in two octaves at 96 bpm, and the first 16 bars of the sonata. Test in 10 days.',
    asks: [],
  },
  {
    text: 'Your circuit: 30 seconds on, 15 seconds off, 8 stations, 3 rounds. Film the last round.',
    asks: [],
  },
  {
    text: 'Grades: 70% performance, 30% reflection. The reflection is 500 words. Video: MP4 under 120 MB.',
    asks: ['format mp4', 'size ..120MB'],
  },
  {
    text: "Don't worry about the file size or the format. I only want it to be shorter than two minutes.",
    asks: ['length ..2:00'],
  },
  {
    text: 'MP4 (H.264/AAC), 1080p max, 30 fps max, stereo, 500 MB max.',
    asks: [
      'format mp4',
      'vcodec h264',
      'scodec aac',
      'lines ..1080',
      'fps ..30',
      'channels 2',
      'size ..500MB',
    ],
  },
  { text: 'Ten photographs minimum, fifteen maximum.', asks: ['count photo 10..15'] },
  {
    text: 'Hand in two videos, one from the front and one from the side, neither longer than half a minute.',
    asks: ['count video 2..2', 'length ..0:30'],
  },
  {
    text: 'The recording has to be in a single take; stopping and starting again is not allowed. Sign the authentication form to say it is your own work.',
    asks: ['onetake', 'own'],
  },
  {
    text: 'Turn off location services before you take the pictures, or remove the GPS tags afterwards.',
    asks: ['noplace'],
  },
  { text: 'Edit: deadline extended to Monday 30 November, 18:00.', asks: ['due 2026-11-30T18:00'] },
  {
    text: 'Your soundtrack: exactly 1 min, WAV, 44.1kHz, 16 bit, mono.',
    asks: ['length =1:00', 'format wav', 'rate =44100', 'channels 1'],
  },
  {
    text: 'Photos can be PNG, JPEG or HEIC, but nothing bigger than twelve MB. Short edge 1080 px or above.',
    asks: ['format png|jpeg|heic', 'size ..12MB', 'short 1080..'],
  },
  {
    text: 'It is fine if the video is a bit shaky. It is not fine if it is over three minutes.',
    asks: ['length ..3:00'],
  },
  { text: 'You can hand in as many times as you like. The last one counts.', asks: [] },
  {
    text: 'Keep to one video per group. Max two minutes thirty.',
    asks: ['count video 1..1', 'length ..2:30'],
  },
  {
    text: 'Video length must be > 30 s and < 60 s; size <= 25MB; fps >= 25.',
    asks: ['length 0:30..1:00', 'size ..25MB', 'fps 25..'],
  },
  {
    text: 'A 90-second audition clip, filmed head to knee against a plain wall. Slate with your name. MOV or MP4. Under 100 MB.',
    asks: ['length =1:30', 'format mov|mp4', 'size ..100MB'],
  },
];
