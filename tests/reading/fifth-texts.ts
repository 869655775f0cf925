import type { SampleText } from './texts.ts';

/** A fifth set: many short ones, as teachers write them into a course page. */
export const fifthTexts: readonly SampleText[] = [
  {
    text: 'Record a 60-90 second performance of your chosen study. Submit as MP3 (max 10MB).',
    asks: ['length 1:00..1:30', 'format mp3', 'size ..10MB'],
  },
  {
    text: 'Your video must not exceed 3 minutes in length and must be submitted in MP4 format. The maximum file size is 250MB.',
    asks: ['length ..3:00', 'format mp4', 'size ..250MB'],
  },
  {
    text: 'Please photograph your final piece from the front and the side (2 photographs). Files should be JPEG, no larger than 5MB each, and at least 1600 pixels on the shortest side.',
    asks: ['count photo 2..2', 'format jpeg', 'size ..5MB', 'short 1600..'],
  },
  {
    text: 'Upload your monologue here. Time limit: 2 minutes. Landscape format. Introduce yourself first.',
    asks: ['length ..2:00', 'held landscape'],
    wishes: ['Introduce yourself first'],
  },
  {
    text: 'Film your partner performing 5 lay-ups. Minimum 30 fps, ideally 60. Keep clips under 15 seconds.',
    asks: ['fps 30..', 'fps =60?', 'length ..0:15'],
  },
  {
    text: 'We need: 1 x video (MP4), 3 x photos (JPG). The video should be 2-4 mins.',
    asks: ['count video 1..1', 'format mp4', 'count photo 3..3', 'format jpeg', 'length 2:00..4:00 [video]'],
  },
  {
    text: 'Length: approx. 4 minutes. Anything over 5 minutes will be stopped.',
    asks: ['length ~4:00', 'length ..5:00'],
  },
  {
    text: 'File requirements: .wav, 16-bit, 44.1kHz, stereo, peak level no higher than -1dB.',
    asks: ['format wav', 'rate =44100', 'channels 2', 'peak -1'],
  },
  {
    text: 'Due Tuesday 1st December at 3.15pm. Late work will lose 5 marks per day.',
    asks: ['due 2026-12-01T15:15', 'late yes'],
  },
  {
    text: 'The performance must be recorded in one continuous take with no edits, fades or added effects.',
    asks: ['onetake'],
  },
  {
    text: 'Name your file as follows: candidate number_surname_unit.',
    asks: ['name candidate number_surname_unit'],
  },
  {
    text: 'Your artwork must fill the frame, be in focus and be photographed without flash. Crop out the background. 300dpi at A4.',
    asks: ['sharp', 'dpi 300 210x297'],
  },
  {
    text: 'You have until midnight on 30 November to upload your file. Only one submission is allowed.',
    asks: ['due 2026-11-30T23:59', 'attempts 1'],
  },
  {
    text: 'Video: MP4 or MOV; at least 1080p; 16:9; between 1 and 2 minutes; under 500 MB.\nImage: PNG; 2000 x 2000 px; under 10 MB.',
    asks: [
      'format mp4|mov [video]',
      'lines 1080.. [video]',
      'aspect 16:9',
      'length 1:00..2:00',
      'size ..500MB [video]',
      'format png [photo]',
      'width =2000 [photo]',
      'height =2000 [photo]',
      'size ..10MB [photo]',
    ],
  },
  {
    text: 'Two-minute duologue. Both actors must be in shot the whole time. State both names at the start. No costumes needed.',
    asks: ['length =2:00', 'who'],
    wishes: ['Both actors must be in shot the whole time'],
  },
  {
    text: 'Please hand in ONE of the following: a video (max 3 min) or a sound recording (max 5 min).',
    asks: ['length ..3:00 [video]', 'length ..5:00 [sound]'],
  },
  { text: 'Perform for no less than 4 and no more than 7 minutes.', asks: ['length 4:00..7:00'] },
  {
    text: 'The audio should sit around -18 LUFS, and never go above -2 dBTP.',
    asks: ['loud -18', 'peak -2'],
  },
  {
    text: 'Submit your sketchbook pages as a single PDF of no more than 20 pages and 15 MB.',
    asks: ['format pdf', 'size ..15MB', 'count document 1..1'],
  },
  { text: 'You may hand in up to two attempts; the better one counts.', asks: ['attempts 2'] },
  {
    text: 'Shoot in 4K if you can. If not, 1080p is fine. Frame rate 24 or 25.',
    asks: ['lines =2160?', 'lines =1080', 'fps 24..25'],
  },
  {
    text: "Don't make it longer than a minute, and don't send me anything bigger than 60 meg.",
    asks: ['length ..1:00', 'size ..60MB'],
  },
  {
    text: 'Your recording has to start with a spoken introduction (name, piece, composer). It has to last at least three minutes.',
    asks: ['length 3:00..'],
    wishes: ['Your recording has to start with a spoken introduction'],
  },
  {
    text: 'For your portfolio choose six pieces. For each piece provide one JPEG (max 3 MB, longest side 2500 px) and a caption of up to 40 words.',
    asks: ['format jpeg', 'size ..3MB', 'long =2500', 'note'],
  },
  {
    text: 'Filming: phone on its side, tripod if possible, whole stage in view. Sound must be clear. 720p minimum.',
    asks: ['held landscape', 'lines 720..'],
    wishes: ['Sound must be clear'],
  },
  { text: 'All files have to be under 100MB in total.', asks: ['total ..100MB'] },
  { text: 'Correction: I wrote 3 minutes, it should say 30 seconds.', asks: ['length =0:30'] },
  { text: 'Sorry everyone, the limit on the site is 50MB, not 500MB.', asks: ['size ..50MB'] },
  { text: 'Anything from one to two minutes is fine, any format, any size.', asks: ['length 1:00..2:00'] },
  {
    text: 'Complete the worksheet on page 7 by Thursday. There are 3 questions worth 10 marks each.',
    asks: ['due 2026-11-26'],
  },
  {
    text: 'Running order: warm-up 10 min, drills 15 min, match 20 min. Bring shin pads. Film the last 2 minutes of the match on your phone held horizontally.',
    asks: ['held landscape'],
  },
  {
    text: 'Please keep the resolution at 1920x1080 and the bit rate above 8 Mbps.',
    asks: ['width =1920', 'height =1080'],
    wishes: ['8 Mbps'],
  },
  {
    text: 'Your video can be a maximum of 90 seconds long and should be filmed horizontally. Please make sure your full body is visible.',
    asks: ['view body?', 'length ..1:30', 'held landscape', 'whole'],
  },
  { text: 'Save as surname.forename.drama.mp4', asks: ['name surname.forename.drama', 'format mp4'] },
  {
    text: 'Files names must contain your surname and the word Assessment.',
    asks: [],
    wishes: ['must contain your surname'],
  },
  {
    text: 'Acceptable formats: mp4, mov, m4v, avi. Unacceptable: wmv, flv, mkv.',
    asks: ['format mp4|mov|avi !mkv'],
  },
  {
    text: 'Two to three photographs, please, each of a different stage, portrait or landscape.',
    asks: ['count photo 2..3'],
  },
  {
    text: 'No file may exceed 30 MB; the whole submission may not exceed 120 MB.',
    asks: ['size ..30MB', 'total ..120MB'],
  },
  {
    text: 'In no more than five minutes, show us what you learned this term. Any medium. One file only.',
    asks: ['length ..5:00'],
  },
  {
    text: 'Please submit your piece by 9 a.m. on the 4th of December; late entries cannot be accepted.',
    asks: ['due 2026-12-04T09:00', 'late no'],
  },
];
