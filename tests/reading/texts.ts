import { laterTexts } from './later-texts.ts';
import type { SampleText } from './sample-text.ts';

export type { SampleText };

/** Dates are read against this instant: Tuesday 24 November 2026, 9:00. */
export const READ_AT = '2026-11-24T09:00';

export const texts: readonly SampleText[] = [
  // Plain
  {
    text: 'Please hand in one MP4 video of your solo. It must be between 1:30 and 2:00 long and no larger than 100 MB.',
    asks: ['count video 1..1', 'format mp4', 'length 1:30..2:00', 'size ..100MB'],
  },
  {
    text: 'Upload a JPEG of your print. At most 5 MB, at least 2000 pixels on the long edge.',
    asks: ['format jpeg', 'size ..5MB', 'long 2000..'],
  },
  {
    text: 'Your recording should be no longer than three minutes. Use MP3 or WAV. Max 20 MB.',
    asks: ['length ..3:00', 'format mp3|wav', 'size ..20MB'],
  },
  {
    text: 'Film it in landscape. 1080p or less. MP4 only. 60 seconds maximum.',
    asks: ['held landscape', 'lines ..1080', 'format mp4', 'length ..1:00'],
  },
  {
    text: 'Length: 2–3 minutes\nFormat: MP4 or MOV\nSize: up to 250 MB\nSound: yes, stereo',
    asks: ['length 2:00..3:00', 'format mp4|mov', 'size ..250MB', 'sound yes', 'channels 2'],
  },
  {
    text: 'Submit three photographs of your sculpture, JPEG, each under 4MB. The whole piece has to be in view in every one of them.',
    asks: ['count photo 3..3', 'format jpeg', 'size ..4MB', 'whole'],
  },
  {
    text: 'Record the étude in one take with no edits and name the file Surname_Firstname_Etude.',
    asks: ['onetake', 'name Surname_Firstname_Etude'],
  },
  {
    text: 'I need a two-minute monologue on video. Please film it sideways, not upright.',
    asks: ['length =2:00', 'held landscape'],
  },
  {
    text: 'Sound files must be mono WAV at 48 kHz, and should lie between -20 and -14 LUFS with a true peak no higher than -1 dBTP.',
    asks: ['format wav', 'channels 1', 'rate =48000', 'loud -20..-14', 'peak -1'],
  },
  {
    text: 'The video has to be filmed at 50 frames per second or more so that I can slow it down.',
    asks: ['fps 50..'],
  },
  // Slang and number words
  {
    text: "Keep it under a hundred megs please, and don't go over two and a half minutes.",
    asks: ['size ..100MB', 'length ..2:30'],
  },
  { text: '1.5 gigs max. Anything bigger and the site chokes.', asks: ['size ..1500MB'] },
  { text: 'It should run for 2\'30" at the very most.', asks: ['length ..2:30'] },
  { text: 'Somewhere between two and three minutes is what I am after.', asks: ['length 2:00..3:00'] },
  {
    text: 'Half a gig tops, mp4s only, portrait is not okay – turn the phone on its side.',
    asks: ['size ..500MB', 'format mp4', 'held landscape'],
  },
  {
    text: 'Give me a minute and a half of your routine, give or take. Any format your phone makes is fine.',
    asks: ['length ~1:30'],
  },
  {
    text: 'About ninety seconds. Roughly. Not a slideshow please.',
    asks: ['length ~1:30'],
    wishes: ['Not a slideshow please'],
  },
  {
    text: 'Pics as jpgs, a couple of megs each at most, five of them.',
    asks: ['format jpeg', 'size ..2MB', 'count photo 5..5'],
  },
  { text: 'no more than a quarter of an hour, no less than ten mins', asks: ['length 10:00..15:00'] },
  { text: 'We need a dozen photos at a max of 800kb a piece.', asks: ['count photo 12..12', 'size ..800kB'] },
  {
    text: 'vid must be 1min 30 to 2min, under 200mb, mp4 or mov, landscape',
    asks: ['length 1:30..2:00', 'size ..200MB', 'format mp4|mov', 'held landscape'],
  },
  { text: '45 secs is plenty, a minute is the limit.', asks: ['length ..1:00'] },
  // Negation
  {
    text: 'The piece may be up to four minutes; there is no minimum. There is no limit on file size.',
    asks: ['length ..4:00'],
  },
  { text: 'No HEIC please, I cannot open it. PNG or JPEG are both good.', asks: ['format png|jpeg !heic'] },
  {
    text: "Don't send me AVI files. The clip shouldn't be longer than 40 seconds and shouldn't be shorter than 20.",
    asks: ['format !avi', 'length 0:20..0:40'],
  },
  {
    text: 'You do not need to worry about the length. Just make sure that it is not more than 300 MB.',
    asks: ['size ..300MB'],
  },
  {
    text: 'It does not matter how long it is, and there is no maximum size. Hand in an MP4.',
    asks: ['format mp4'],
  },
  { text: 'No sound is needed. Film at least 30 seconds.', asks: ['length 0:30..'] },
  { text: 'The film must be silent: no music, no talking, no sound at all.', asks: ['sound no'] },
  { text: 'Not HEVC, please: encode it as H.264.', asks: ['vcodec h264 !hevc'] },
  {
    text: 'Do not crop it to a square. The photograph must not be smaller than 1500 px on the short side.',
    asks: ['short 1500..'],
    wishes: ['Do not crop it to a square'],
  },
  // Corrections
  { text: 'At most 50 MB. Update: ignore what I said about the size, 100 MB now.', asks: ['size ..100MB'] },
  {
    text: 'The video should be two minutes long. CORRECTION: three minutes, not two.',
    asks: ['length =3:00'],
  },
  { text: 'Maximum 3 minutes (it used to be 2 minutes). MP4.', asks: ['length ..3:00', 'format mp4'] },
  { text: 'Hand in a MOV. Sorry, scrap that, hand in an MP4 instead.', asks: ['format mp4'] },
  { text: 'The limit has gone up from 50 MB to 80 MB.', asks: ['size ..80MB'] },
  {
    text: 'Due Thursday 26 November at 4pm. Edit: I have moved it to Friday 27 November at noon.',
    asks: ['due 2026-11-27T12:00'],
  },
  {
    text: 'Film it in portrait. Actually no, landscape please, it looks better on the projector.',
    asks: ['held landscape'],
  },
  { text: 'Two photographs. I have changed my mind: three photographs.', asks: ['count photo 3..3'] },
  // Alternatives and several kinds
  {
    text: 'Hand in either one video or four photographs of your piece.',
    asks: ['count video 1..1 @a', 'count photo 4..4 @b'],
  },
  {
    text: 'Videos up to 100 MB, photos up to 5 MB each.',
    asks: ['size ..100MB [video]', 'size ..5MB [photo]'],
  },
  {
    text: 'One video (MP4, no more than 2 minutes) and two photographs (JPEG, at least 1200 pixels wide).',
    asks: [
      'count video 1..1',
      'format mp4 [video]',
      'length ..2:00 [video]',
      'count photo 2..2',
      'format jpeg [photo]',
      'width 1200.. [photo]',
    ],
  },
  {
    text: 'For the recording: WAV, stereo, at most 6 minutes. For the photographs: JPEG, 3 MB at most.',
    asks: [
      'format wav [sound]',
      'channels 2 [sound]',
      'length ..6:00 [sound]',
      'format jpeg [photo]',
      'size ..3MB [photo]',
    ],
  },
  {
    text: 'Photos:\n- 3 to 5 JPEGs\n- long edge 2000 px or more\nVideo:\n- one MP4\n- 30 seconds to 1 minute\n- max. 60 MB',
    asks: [
      'count photo 3..5',
      'format jpeg [photo]',
      'long 2000.. [photo]',
      'count video 1..1',
      'format mp4 [video]',
      'length 0:30..1:00 [video]',
      'size ..60MB [video]',
    ],
  },
  {
    text: 'The files together must not be more than 500 MB, and no single file over 100 MB.',
    asks: ['total ..500MB', 'size ..100MB'],
  },
  { text: 'Four images, 10 MB in total.', asks: ['count photo 4..4', 'total ..10MB'] },
  {
    text: 'Send me the score as a PDF and the performance as an MP4 of at most 80 MB.',
    asks: ['format pdf', 'format mp4', 'size ..80MB'],
  },
  // Numbers that are no limits
  {
    text: 'Play from bar 1 to bar 48 at 104 to the crotchet, on page 12. Room 12 is free at lunch. It is marked out of 40. MP4, please.',
    asks: ['format mp4', 'points 40'],
  },
  {
    text: 'The ticket costs £4.50 and the coach leaves at 8:30 from gate 2. Bring your sketchbook (A3). We meet in room 14.',
    asks: [],
  },
  {
    text: 'Warm up for ten minutes before you record. Then film exactly 45 seconds.',
    asks: ['length =0:45'],
  },
  {
    text: 'Grade 5 pieces are on pages 3 to 9. The metronome mark is 72. Repeat bars 9–16. Sound file, MP3.',
    asks: ['format mp3'],
  },
  {
    text: 'There are 30 marks: 10 for technique, 10 for expression, 10 for accuracy. Record in stereo.',
    asks: ['channels 2', 'points 30'],
  },
  {
    text: 'Year 10: rehearse for 20 minutes each day. In week 3 you film 60 metres hurdles, lane 4, in one take.',
    asks: ['onetake'],
  },
  {
    text: 'Op. 27 no. 2, movement 1, at crotchet = 60. Leave two seconds of silence before you begin. Maximum four minutes in all.',
    asks: ['length ..4:00'],
    wishes: ['Leave two seconds of silence before you begin'],
  },
  {
    text: 'Mix 3 parts water with 1 part ink on 300 gsm paper. Photograph the dry print, JPEG.',
    asks: ['format jpeg'],
  },
  {
    text: 'You have had 6 weeks for this. There were 24 of you in the hall and the show ran for 90 minutes. Well done.',
    asks: [],
  },
  {
    text: 'Scene 2, lines 20 to 45, is on page 31. Learn it by heart. No longer than 90 seconds.',
    asks: ['length ..1:30'],
  },
  {
    text: 'Hold the balance for at least 3 seconds. The video may last one minute at most.',
    asks: ['length ..1:00'],
    wishes: ['Hold the balance for at least 3 seconds'],
  },
  {
    text: 'Sprint 100 m, rest two minutes, sprint again. Film both runs from the side at 60 fps.',
    asks: ['fps =60'],
  },
  {
    text: 'C sharp in bar 7, please! And the portrait of your grandmother is due in landscape week. Phone me on 01632 960 117.',
    asks: [],
  },
  {
    text: 'Draw a self-portrait and a landscape. Photograph both in daylight and hand in two JPEGs.',
    asks: ['count photo 2..2', 'format jpeg'],
  },
  {
    text: 'Use a 2B pencil, 30 x 40 cm paper, and work at 1:2 scale. 300 dpi at A4 for the scan, PNG.',
    asks: ['dpi 300 210x297', 'format png'],
  },
  ...laterTexts,
];
