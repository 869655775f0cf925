import type { SampleText } from './texts.ts';

/** A third set, again written after the reader had been corrected on the two before it. */
export const thirdTexts: readonly SampleText[] = [
  {
    text: 'Dear all, thank you for a lovely concert. For the portfolio I need a recording from each of you: WAV or FLAC, not compressed, two minutes or more, and with nothing louder than -1 dBTP. Name it Surname-Firstname-Piece. Due Friday.',
    asks: ['format wav|flac', 'length 2:00..', 'peak -1', 'name Surname-Firstname-Piece', 'due 2026-11-27'],
    wishes: ['not compressed'],
  },
  {
    text: 'Task sheet 4b\n1. Warm up (5 min).\n2. Film your handstand, 10 s, side view.\n3. Upload the clip as MP4, max 30 MB.',
    asks: ['format mp4', 'size ..30MB', 'length =0:10'],
  },
  { text: 'Make it short: half a minute, not a second more.', asks: ['length ..0:30'] },
  {
    text: 'Please send your drawing as a scan (300 dpi, A4, PDF or PNG). Nothing larger than 10MB will go through.',
    asks: ['dpi 300 210x297', 'format pdf|png', 'size ..10MB'],
  },
  {
    text: 'I would like to see 2 or 3 photos, at least 1500 pixels wide.',
    asks: ['count photo 2..3', 'width 1500..'],
  },
  { text: 'No more than 5 pictures please, and no video.', asks: ['count photo 0..5'], wishes: ['no video'] },
  {
    text: 'Your video needs to be a minimum of 90 seconds and a maximum of 150 seconds in length.',
    asks: ['length 1:30..2:30'],
  },
  {
    text: 'The upload form takes MP4, MOV and AVI up to 200 megabytes.',
    asks: ['format mp4|mov|avi', 'size ..200MB'],
  },
  {
    text: 'Time: 1:45–2:15. Sound on. Vertical video is not allowed.',
    asks: ['length 1:45..2:15', 'sound yes', 'held landscape'],
  },
  {
    text: 'Hold your phone upright. The clip goes straight onto the school feed, so keep it to 15 seconds.',
    asks: ['held portrait', 'length ..0:15'],
  },
  {
    text: "If you're filming: landscape, 1080p, 25fps. If you're photographing: long side 2400 px.",
    asks: ['held landscape', 'lines =1080', 'fps =25', 'long =2400'],
  },
  {
    text: 'The total size of your submission may not exceed 1 GB. Individual clips should be under 250 MB.',
    asks: ['total ..1000MB', 'size ..250MB'],
  },
  {
    text: 'You must hand in exactly four photographs in JPEG format. Each file needs to be between 500 KB and 3 MB.',
    asks: ['count photo 4..4', 'format jpeg', 'size 500kB..3MB'],
  },
  {
    text: 'Play the piece twice: once slowly at 60 bpm, once at 120 bpm. One continuous recording, MP3.',
    asks: ['onetake', 'format mp3'],
  },
  {
    text: 'Speak for three to four minutes about your process. Film it or just record the audio, both are OK.',
    asks: ['length 3:00..4:00'],
  },
  { text: 'File naming: StudentNumber_Unit_Title', asks: ['name StudentNumber_Unit_Title'] },
  {
    text: 'Save the file with your first name, then your surname, then the date.',
    asks: ['name FirstName_Surname_Date'],
  },
  {
    text: 'The whole canvas should be visible, straight on, in focus and without flash.',
    asks: ['whole', 'sharp'],
  },
  {
    text: 'Please credit everyone who appears and state that the choreography is your own work.',
    asks: ['who', 'own'],
  },
  {
    text: 'Submissions after the deadline (Monday 7 December, 8:00) will not be accepted.',
    asks: ['due 2026-12-07T08:00', 'late no'],
  },
  { text: 'Extension granted: you now have until 15 January 2027 at 17:00.', asks: ['due 2027-01-15T17:00'] },
  { text: 'Max two tries. No HEVC. Keep sound.', asks: ['attempts 2', 'vcodec !hevc', 'sound yes'] },
  {
    text: 'This should take you about 40 minutes. Work in pairs. You will need 2 sheets of A3 and one brush. Photograph the result and send it as a JPEG under 2MB.',
    asks: ['format jpeg', 'size ..2MB'],
  },
  {
    text: 'In the last lesson we watched three videos of 5 minutes each. Tonight: write 200 words.',
    asks: [],
  },
  { text: 'Jump as far as you can, 3 attempts, best one counts. Record the distance in metres.', asks: [] },
  {
    text: 'Monologues of 1-2 mins. Landscape orientation only. We will accept mp4 and mov; other formats will be returned.',
    asks: ['length 1:00..2:00', 'held landscape', 'format mp4|mov'],
  },
  { text: 'I asked for 1080p before, but 720p is enough.', asks: ['lines =720'] },
  {
    text: 'Record in mono at 44.1 kHz/16 bit. WAV. -23 LUFS +/- 1.',
    asks: ['channels 1', 'rate =44100', 'format wav', 'loud -23'],
  },
  {
    text: 'You may record up to a quarter of an hour of rehearsal footage. Anything under 100MB is good.',
    asks: ['length ..15:00', 'size ..100MB'],
  },
  {
    text: 'Group piece (max. 6 dancers), 3–5 minutes, one camera, no cuts. All names in the description.',
    asks: ['length 3:00..5:00', 'onetake', 'who'],
  },
  {
    text: 'The image has to be square, 2000 x 2000 px, PNG with no more than 4 MB.',
    asks: ['width =2000', 'height =2000', 'format png', 'size ..4MB', 'held square'],
  },
  {
    text: 'Film on your phone held sideways; 30 frames a second is fine, 60 is better.',
    asks: ['held landscape'],
  },
  { text: "Teacher's note: last year's limit was 50 MB. This year it is 120 MB.", asks: ['size ..120MB'] },
  {
    text: 'Length 3 minutes max (titles not included)\nFormat H.264 mp4\nFrame size 1920 x 1080 or 1280 x 720\nDelivery by upload, no links',
    asks: ['length ..3:00', 'format mp4', 'vcodec h264'],
  },
  { text: 'As discussed, videos: 2 min, photos: 3.', asks: ['length =2:00', 'count photo 3..3'] },
  {
    text: 'Upload one audio file of your aria (no accompaniment track) lasting roughly four minutes, plus a PDF of the marked score.',
    asks: ['count sound 1..1', 'length ~4:00', 'format pdf'],
  },
  {
    text: 'The deadline is midnight on Sunday 29 November; you can resubmit until then.',
    asks: ['due 2026-11-29T23:59'],
  },
  {
    text: 'Your performance must not be shorter than 4 or longer than 6 minutes.',
    asks: ['length 4:00..6:00'],
  },
  {
    text: 'Six photos at the very least, JPEG preferred. Minimum 12 megapixels.',
    asks: ['count photo 6..', 'format jpeg?'],
    wishes: ['12 megapixels'],
  },
  {
    text: 'i want 1 vid max 1 min mp4 no bigger than 50 mb thx',
    asks: ['count video 1..1', 'length ..1:00', 'format mp4', 'size ..50MB'],
  },
];
