import type { SampleText } from './texts.ts';

/**
 * A tenth set: figures about other things, each beside words that also stand in limits; and plain ways of
 * asking.
 */
export const tenthTexts: readonly SampleText[] = [
  { text: 'You may use at most 20 seconds of somebody else’s music.', asks: [] },
  {
    text: 'No more than half a minute of copyrighted material, please. The video itself is between 2 and 4 minutes long.',
    asks: ['length 2:00..4:00'],
  },
  { text: 'Sending the file can take up to a quarter of an hour, so be patient.', asks: [] },
  {
    text: 'The upload may take 15 minutes on a slow line. Your clip is at most 90 seconds.',
    asks: ['length ..1:30'],
  },
  { text: 'Converting takes about ten minutes. Do not close the page.', asks: [] },
  { text: 'Show the finished work for at least 6 seconds before you begin to speak.', asks: [] },
  {
    text: 'Hold the last picture for at least three seconds. The whole film is no longer than two minutes.',
    asks: ['length ..2:00'],
  },
  { text: 'Keep the camera still for at least ten seconds at the start.', asks: [] },
  { text: 'Your face has to be visible for the first 15 seconds.', asks: ['view face'] },
  { text: 'Leave at least two seconds of silence before the first note and after the last.', asks: [] },
  {
    text: 'Introduce yourself in no more than 20 seconds, then play. The recording is at most 5 minutes in all.',
    asks: ['length ..5:00'],
  },
  {
    text: 'Warm up for at least a quarter of an hour, then record your scale in under a minute.',
    asks: ['length ..1:00'],
  },
  { text: 'Each of you has up to five minutes with the examiner. Arrive ten minutes before.', asks: [] },
  { text: 'The room is yours for at most 40 minutes at a time.', asks: [] },
  { text: 'Rest for at least 60 seconds between the rounds and film the third round only.', asks: [] },
  { text: 'The concert lasts about ninety minutes with a break of 20 minutes.', asks: [] },
  { text: 'Swim 50 m in under 70 seconds. Film the turn.', asks: [] },
  { text: 'Hold a plank for at least 90 seconds and have somebody film you from the side.', asks: [] },
  { text: 'Sprint 60 m in less than 9 seconds. A friend films the start.', asks: [] },
  { text: 'Walk round the track for at least ten minutes, then stretch.', asks: [] },
  { text: 'Skip for 45 seconds without a break and count the jumps.', asks: [] },
  { text: 'Balance on one foot for at least 20 seconds, eyes closed.', asks: [] },
  { text: 'Row 500 m in under two minutes. Film it from the side.', asks: [] },
  { text: 'The clay dries for at least 48 hours. Then photograph the bowl.', asks: [] },
  {
    text: 'Practise every day for at least 20 minutes. On Friday send me one recording of up to two minutes.',
    asks: ['length ..2:00'],
  },
  { text: 'The help desk answers within 30 minutes.', asks: [] },
  { text: 'After 25 minutes without a click you are logged out, so save your answer.', asks: [] },
  { text: 'The link is valid for at most 24 hours.', asks: [] },
  { text: 'Your quota is 5 GB, and your phone should have at least 2 GB free before you film.', asks: [] },
  { text: 'The template is 40 MB; download it before the lesson.', asks: [] },
  {
    text: 'A minute of film takes up about 120 MB on most phones. Files of more than 80 MB have to be compressed first.',
    asks: ['size ..80MB'],
  },
  { text: 'If the picture is larger than 6 MB, make it smaller before you upload it.', asks: ['size ..6MB'] },
  { text: 'Anything above 30 MB is sent back by the portal.', asks: ['size ..30MB'] },
  { text: 'The software needs at least 4 GB of memory.', asks: [] },
  {
    text: 'Last year’s winner handed in a film of six minutes and 900 MB; look at it on the school drive.',
    asks: [],
  },
  { text: 'The sample recording lasts 1:20. Listen to it at least twice.', asks: [] },
  {
    text: 'We watched a clip of 4 minutes in class. Write down what you saw, in at least 150 words.',
    asks: [],
  },
  { text: 'Play the extract of 45 seconds from the book and explain it.', asks: [] },
  { text: 'The mural is 5 m by 3 m and took 12 hours to paint.', asks: [] },
  { text: 'The board is 2 m by 1 m, the brush 4 cm wide.', asks: [] },
  { text: 'Film your dance and hand it in.', asks: ['count video 1..1'] },
  {
    text: 'Record your solo and upload it here. It should last two to three minutes.',
    asks: ['length 2:00..3:00'],
  },
  { text: 'Photograph your drawing and send it to me.', asks: ['count photo 1..1'] },
  {
    text: 'Make a video of your serve and submit it by Friday. One minute ten at the longest.',
    asks: ['count video 1..1', 'length ..1:10', 'due 2026-11-27'],
  },
  {
    text: 'Film the exercise. Two minutes thirty at the most, half a minute at the least.',
    asks: ['count video 1..1', 'length 0:30..2:30'],
  },
  {
    text: 'Upload the video of your speech: no shorter than 90 seconds and no longer than three minutes.',
    asks: ['count video 1..1', 'length 1:30..3:00'],
  },
  { text: 'At least two minutes, at most four.', asks: ['length 2:00..4:00'] },
  {
    text: 'Your monologue has to last at least one minute and must not go over two.',
    asks: ['length 1:00..2:00'],
  },
  { text: 'The film may not be bigger than 300 MB, the poster no bigger than 4 MB.', asks: ['size ..300MB'] },
  { text: 'Do not film anybody without asking. There is nothing to hand in this week.', asks: [] },
  { text: 'Watch the video twice and bring your notes.', asks: [] },
  { text: 'Look at the three photographs on page 8 and describe one of them in class.', asks: [] },
  { text: 'I will film the match myself; you need not send me anything.', asks: [] },
  { text: 'You can take photos on the trip, but I am not collecting them.', asks: [] },
  { text: 'The recording of last week’s lesson is on the drive.', asks: [] },
  { text: 'Film one dance of two minutes.', asks: ['length =2:00'] },
  { text: 'Record a speech of 3 minutes as MP3.', asks: ['length =3:00', 'format mp3'] },
  { text: 'Hand in a solo of about 90 seconds, MP4.', asks: ['length ~1:30', 'format mp4'] },
  { text: 'I would like a monologue lasting two and a half minutes.', asks: ['length =2:30'] },
  { text: 'Upload a clip of 45 seconds from your rehearsal.', asks: ['length =0:45'] },
  { text: 'Watch the film of 12 minutes that is on the course page.', asks: [] },
  { text: 'We heard a song of four minutes in class.', asks: [] },
  { text: 'The recording of 20 minutes that I shared is only for practice.', asks: [] },
];
