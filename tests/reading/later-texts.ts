import type { SampleText } from './sample-text.ts';

/** The second half of the first set. */
export const laterTexts: readonly SampleText[] = [
  // Names
  {
    text: 'Name it Surname_Firstname_Piece.mp4, e.g. Varga_Ineke_Nocturne.mp4.',
    asks: ['name Surname_Firstname_Piece', 'format mp4'],
  },
  { text: 'Call the file your candidate number, then the title.', asks: ['name CandidateNumber_Title'] },
  { text: 'File name: candidate number underscore surname.', asks: ['name CandidateNumber_Surname'] },
  {
    text: 'Save your work as firstname-surname-title and upload it.',
    asks: ['name firstname-surname-title'],
  },
  {
    text: 'Files should be labelled with your surname followed by your first name and the name of the piece.',
    asks: ['name Surname_FirstName_Piece'],
  },
  { text: 'The file must be named LASTNAME_FIRSTNAME.', asks: ['name LASTNAME_FIRSTNAME'] },
  // People, notes, statements, place
  {
    text: 'If you played with someone, tell me who. Add a short note on what you would do differently.',
    asks: ['who', 'note'],
  },
  { text: 'List everyone who took part and confirm that it is your own work.', asks: ['who', 'own'] },
  { text: 'Please remove the location data from your photos before you send them.', asks: ['noplace'] },
  {
    text: 'Take out where it was photographed. Include a paragraph about your idea.',
    asks: ['noplace', 'note'],
  },
  { text: 'Name your accompanist. Sign the statement of authenticity.', asks: ['who', 'own'] },
  { text: 'Include the names of all performers.', asks: ['who'] },
  // Dates, lateness, attempts
  {
    text: 'Due by Friday 27 November at 4 pm. No late work. You have two attempts.',
    asks: ['due 2026-11-27T16:00', 'late no', 'attempts 2'],
  },
  {
    text: 'Deadline: 4 December 2026, 23:59. Late submissions are accepted with a mark off.',
    asks: ['due 2026-12-04T23:59', 'late yes'],
  },
  { text: 'Hand it in by next Monday. One attempt only.', asks: ['due 2026-11-30', 'attempts 1'] },
  {
    text: 'The deadline is tomorrow at noon and nothing is accepted after that.',
    asks: ['due 2026-11-25T12:00', 'late no'],
  },
  {
    text: 'This is due on 3/12/2026 at 9:00. You can hand in up to 3 times.',
    asks: ['due 2026-12-03T09:00', 'attempts 3'],
  },
  // Should
  {
    text: 'Ideally film in landscape. If possible keep it below 50 MB. It must be an MP4.',
    asks: ['held landscape?', 'size ..50MB?', 'format mp4'],
  },
  { text: 'Preferably 1080p, but 720p at least.', asks: ['lines =1080?', 'lines 720..'] },
  {
    text: 'WAV if you can, MP3 otherwise. Try to stay within five minutes.',
    asks: ['format wav|mp3', 'length ..5:00?'],
  },
  // Pictures
  {
    text: 'Your photograph must be in focus and show all four edges. Shoot it in 4:3.',
    asks: ['sharp', 'whole', 'aspect 4:3'],
  },
  { text: 'Images must be exactly 1920 x 1080 pixels.', asks: ['width =1920', 'height =1080'] },
  {
    text: 'Long edge between 1200 and 1800 pixels, JPEG, at most 900 kB each.',
    asks: ['long 1200..1800', 'format jpeg', 'size ..900kB'],
  },
  { text: 'Full HD at most, 16:9, 25 or 30 fps.', asks: ['lines ..1080', 'aspect 16:9', 'fps 25..30'] },
  { text: 'Scan it at 300 dpi for A3, TIFF or PNG.', asks: ['dpi 300 297x420', 'format tiff|png'] },
  {
    text: 'The picture may be 3000 pixels wide at most and no more than 2000 pixels high.',
    asks: ['width ..3000', 'height ..2000'],
  },
  { text: 'At least 720 lines, and not more than 30 pictures a second.', asks: ['lines 720..', 'fps ..30'] },
  {
    text: 'Nothing below 1080p will be accepted. Shoot it in one continuous shot.',
    asks: ['lines 1080..', 'onetake'],
  },
  // Sound
  {
    text: 'Make sure that the recording does not clip. 44.1 kHz or higher, stereo, FLAC or WAV.',
    asks: ['noclip', 'rate 44100..', 'channels 2', 'format flac|wav'],
  },
  { text: 'Loudness about -16 LUFS, true peak below -1 dBTP.', asks: ['loud -16', 'peak -1'] },
  { text: 'Your video must have sound. AAC audio, please.', asks: ['sound yes', 'scodec aac'] },
  {
    text: 'Bounce to a 24-bit WAV, 48kHz, no limiter on the master.',
    asks: ['format wav', 'rate =48000'],
    wishes: ['24-bit', 'no limiter on the master'],
  },
  // Run-on, typos, mess
  {
    text: 'ok so basicly film yourself doing the routine, its got to be at least a minute but no more then two, landscpe, mp4, keep it undr 150mb and call it surname_firstname_routine thanks',
    asks: [
      'length 1:00..2:00',
      'held landscape',
      'format mp4',
      'size ..150MB',
      'name surname_firstname_routine',
    ],
  },
  {
    text: 'maximim lenght 3 minuts, minumum 2 minutes, formatt mp4',
    asks: ['length 2:00..3:00', 'format mp4'],
  },
  {
    text: 'Vidoes must be filmed in landscape and be under 90 secconds',
    asks: ['held landscape', 'length ..1:30'],
  },
  {
    text: 'Hi all,\n\nGreat session today! For next week:\n* film your warm-up (max 2 min)\n* landscape\n* mp4/mov\n* < 120 MB\n\nCheers, Mr K',
    asks: ['length ..2:00', 'held landscape', 'format mp4|mov', 'size ..120MB'],
  },
  {
    text: '<p>Please upload <b>one</b> video, <i>max&nbsp;75&nbsp;MB</i>, MP4.</p><ul><li>2 minutes or less</li></ul>',
    asks: ['count video 1..1', 'size ..75MB', 'format mp4', 'length ..2:00'],
  },
  {
    text: 'LENGTH: MIN 60 SEC, MAX 90 SEC. FILE: MP4, <= 40 MB. ORIENTATION: LANDSCAPE.',
    asks: ['length 1:00..1:30', 'format mp4', 'size ..40MB', 'held landscape'],
  },
  // Longer ones
  {
    text: 'Please film one performance of the first movement, from bar 1 to bar 48, at about 104 to the crotchet. Your recording should last between a minute and a half and two minutes. Hold the phone sideways on a stand so that I can see both hands and your face. It has to be a single take, no edits; cutting the ends is fine. Hand in an MP4 of no more than 100 megs, full HD at most, and call it Surname_Firstname_Piece. If you played with someone, tell me who. Make sure the balance is nice. Room 12 is free at lunch.',
    asks: [
      'view face+hands?',
      'count video 1..1',
      'length 1:30..2:00',
      'held landscape',
      'onetake',
      'format mp4',
      'size ..100MB',
      'lines ..1080',
      'name Surname_Firstname_Piece',
      'who',
    ],
    wishes: ['Make sure the balance is nice'],
  },
  {
    text: 'Monologue assessment. You will perform the speech that you chose in September. Record it on video in a single shot; do not cut or edit it. We want to see you from head to toe. The speech must last at least one minute and must not exceed two minutes. Your file has to be an MP4 (H.264), no bigger than 150 MB, at 720p or 1080p. Submit by 5pm on Wednesday 2 December. You may submit twice.',
    asks: [
      'view body?',
      'onetake',
      'length 1:00..2:00',
      'format mp4',
      'vcodec h264',
      'size ..150MB',
      'lines 720..1080',
      'due 2026-12-02T17:00',
      'attempts 2',
    ],
    wishes: [],
  },
  {
    text: 'Portfolio task. Choose your four strongest prints from this term. Photograph each one flat, in even light, with all edges visible. Hand in four JPEGs, each between 2000 and 4000 pixels on the longest side and no more than 6 MB. Use sRGB. Add a short note to say which process you used. Strip the GPS data.',
    asks: ['whole', 'count photo 4..4', 'format jpeg', 'long 2000..4000', 'size ..6MB', 'note', 'noplace'],
    wishes: ['Use sRGB'],
  },
  {
    text: 'Hurdles analysis: get a partner to film three trials over a 76 cm hurdle from the side. Shoot at 120 fps if your phone can do it, 60 fps at the very least. Each clip no longer than 10 seconds, MP4 or MOV, 40 MB apiece. Keep the whole body in the frame. Hand in three clips. Say who filmed you.',
    asks: [
      'fps =120?',
      'fps 60..',
      'length ..0:10',
      'format mp4|mov',
      'size ..40MB',
      'whole',
      'count video 3..3',
      'who',
    ],
  },
  {
    text: 'Composition portfolio. Two contrasting pieces. Audio: WAV (preferred) or MP3 at 320 kbps, stereo, 44.1 kHz. Combined length between 4 and 6 minutes. Score: PDF. Total upload must stay below 200 MB.',
    asks: ['format wav|mp3', 'channels 2', 'rate =44100', 'length 4:00..6:00', 'format pdf', 'total ..200MB'],
  },
  {
    text: 'Dance piece, group of 4. 3 mins +/- 20 secs. Film from the front in landscape mode. Upload as .mov or .mp4 (not a link). 500MB cap.',
    asks: ['length 2:40..3:20', 'held landscape', 'format mov|mp4', 'size ..500MB'],
  },
  {
    text: 'Keyboard skills test 3: record scales in C, G and D, two octaves, hands together at 80 bpm. One file, under 2 minutes. MP3 or M4A. Title it with your student number.',
    asks: ['length ..2:00', 'format mp3|m4a', 'name StudentNumber'],
  },
  {
    text: 'Still life. Two pictures: one of the set-up, one of the finished drawing. Don’t use flash. Max 3 MB per picture, minimum 1600 px on the long side.',
    asks: ['count photo 2..2', 'size ..3MB', 'long 1600..'],
    wishes: ['use flash'],
  },
  {
    text: 'Gymnastics: floor routine, 50 to 70 secs long. Film upright or sideways, I do not mind. Not more than 100 megabytes.',
    asks: ['length 0:50..1:10', 'size ..100MB'],
  },
  {
    text: 'Ensemble of the month. Play all of it, from start to finish, without stopping the camera. 2 to 4 minutes. Everyone’s names in the comments please.',
    asks: ['onetake', 'length 2:00..4:00', 'who', 'note'],
  },
  {
    text: 'For this task the video length is 60–120 seconds; the size limit is 256 MiB.',
    asks: ['length 1:00..2:00', 'size ..256MiB'],
  },
  {
    text: 'I will take anything up to and including 2:15. It has to be at least 1:45.',
    asks: ['length 1:45..2:15'],
  },
  { text: 'No less than 1 megabyte, no more than 8 megabytes, PNG.', asks: ['size 1MB..8MB', 'format png'] },
  {
    text: 'Read your poem aloud: one minute, exactly. Audio only, M4A.',
    asks: ['length =1:00', 'format m4a'],
  },
  { text: 'Please do your best, smile, and have fun!', asks: [] },
  {
    text: 'Your clip needs to be shot in 4K and be shorter than 20 seconds.',
    asks: ['lines =2160', 'length ..0:20'],
  },
  {
    text: 'We can only take files of 25 MB or less. A photo of the working is enough.',
    asks: ['size ..25MB'],
  },
  {
    text: 'The film can be any length you like as long as it is no bigger than 1 GB and in mp4 or webm format.',
    asks: ['size ..1000MB', 'format mp4|webm'],
  },
  {
    text: 'Videos filmed vertically, please: they go on the hall screen. Ten to fifteen seconds each.',
    asks: ['held portrait', 'length 0:10..0:15'],
  },
  {
    text: 'Please submit between 6 and 8 photographs of your process plus one final image at 300 dpi, A4.',
    asks: ['count photo 6..8', 'count photo 1..1', 'dpi 300 210x297'],
  },
  {
    text: 'Trim the start and end. Convert your MOV to MP4. Reduce it until it is less than 64 MB.',
    asks: ['format mp4', 'size ..64MB'],
    wishes: ['Trim the start and end'],
  },
];
