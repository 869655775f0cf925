import type { SampleText } from './texts.ts';

/** A seventh set: whole posts with much besides the limits. */
export const seventhTexts: readonly SampleText[] = [
  {
    text: 'Hello everyone,\n\nNow that we have finished the unit on Baroque dance, I would like each of you to record the suite we learned in class. Warm up properly first (at least 10 minutes, please). Wear black. Film yourself with the phone turned sideways, at about hip height, roughly three metres away, so that I can see your feet. The suite takes a little under three minutes at 96 bpm; your video should therefore be no longer than 3:15. One take only, please: I do not want to see any editing. MP4 is best, MOV is also accepted. The site will not take anything bigger than 300 MB. Hand it in by Thursday 3 December, 8 pm.\n\nBest wishes\nMs Dorran',
    asks: [
      'held landscape',
      'length ..3:15',
      'onetake',
      'format mp4|mov',
      'size ..300MB',
      'due 2026-12-03T20:00',
    ],
  },
  {
    text: 'UNIT 4 – FINAL OUTCOME\n\nYou will submit:\n(a) three photographs of the final outcome (front, back, detail)\n(b) one short video, 20–40 seconds, walking round the piece\n(c) a written statement of 200 words as PDF\n\nPhotographs: JPEG, long edge at least 2400 px, not more than 6 MB each.\nVideo: MP4, landscape, max 80 MB.\n\nName everything Surname_Firstname_Unit4.\nDeadline 11 December 2026, 15:30. No extensions. 60 marks.',
    asks: [
      'count photo 3..3',
      'count video 1..1',
      'length 0:20..0:40',
      'format pdf',
      'format jpeg [photo]',
      'long 2400.. [photo]',
      'size ..6MB [photo]',
      'format mp4 [video]',
      'held landscape',
      'size ..80MB [video]',
      'name Surname_Firstname_Unit4',
      'due 2026-12-11T15:30',
      'late no',
      'points 60',
    ],
  },
  {
    text: 'For the listening log, choose two of the five pieces on the sheet and talk about them for about two minutes each. Just your voice, no video. An ordinary phone recording is good enough (M4A or MP3), as long as it is under 15 MB. You can have as many goes as you like before you upload it, but you can only upload once.',
    asks: ['length ~2:00', 'format m4a|mp3', 'size ..15MB', 'attempts 1'],
    wishes: ['no video'],
  },
  {
    text: 'Javelin technique: we filmed 12 throws on Monday, each of you has three of them in the shared folder. Pick your best throw and trim the clip so that it starts when you begin the run-up and ends when the javelin lands. It should end up between 6 and 12 seconds long. Leave the frame rate as it is (120 fps). Export as MP4, no more than 25 megabytes, and write a short comment on your release angle.',
    asks: ['length 0:06..0:12', 'format mp4', 'size ..25MB', 'note'],
  },
  {
    text: 'Mock exam recording. You need two pieces, total playing time 6 to 9 minutes. If you play with a pianist, name them. Announce the pieces. The microphone must not overload: check that nothing clips. Stereo WAV, 48 kHz. Please strip location information if you film it instead. Late recordings cannot be marked before the holidays.',
    asks: ['length 6:00..9:00', 'noclip', 'channels 2', 'format wav', 'rate =48000', 'noplace'],
  },
  {
    text: 'Year 11 – Mask project. Photograph your mask three times: worn, on the table, and one detail. I would like all three as JPG or PNG and not larger than four megs a piece. Please turn the flash off. The pictures must be sharp and the mask must be completely in the picture. Put your name and tutor group in the note. You can hand this in until Monday 7 December.',
    asks: ['format jpeg|png', 'size ..4MB', 'sharp', 'note', 'due 2026-12-07'],
  },
  {
    text: 'I have had questions about the file size. To be clear: 150 MB is the ceiling for the video and 20 MB for the audio. The length stays as it was, five minutes at the very most. Portrait videos will be sent back.',
    asks: ['size ..150MB [video]', 'size ..20MB [sound]', 'length ..5:00', 'held landscape'],
  },
  {
    text: 'Improvisation diary, week 6. Upload one clip of up to 90 seconds. It does not have to be good. It does have to be unedited. I will watch them all on Friday, so they need to be here by Thursday 9pm. If your clip is over 100 MB, the upload fails.',
    asks: ['count video 1..1', 'length ..1:30', 'onetake', 'due 2026-11-26T21:00', 'size ..100MB'],
  },
  {
    text: 'Printing on fabric: hand in a scan of your sample at 600 dpi (A5) as a TIFF, and a photograph of the printed cloth: JPEG, between 1 and 5 MB, square.',
    asks: ['dpi 600 148x210', 'format tiff|jpeg', 'size 1MB..5MB', 'held square'],
  },
  {
    text: 'Group scene, 4–6 actors. The scene is 8 minutes in the script, but I want you to cut it down to five, six at the outside. Film it straight through from the back of the hall with a wide lens. 1080p25. MP4. List the cast in the comments box.',
    asks: ['length ..6:00', 'lines =1080', 'fps =25', 'format mp4', 'who', 'note'],
  },
];
