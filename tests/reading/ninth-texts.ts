import type { SampleText } from './texts.ts';

/** A ninth set: numbers, media and formats that ask for nothing, with few limits between them. */
export const ninthTexts: readonly SampleText[] = [
  {
    text: 'The film we saw last week was 95 minutes long and had a budget of 2 million. Discuss two scenes in 300 words.',
    asks: [],
  },
  { text: 'Watch the 12 minute video on the course page, then answer the 8 questions.', asks: [] },
  { text: 'Set the metronome to 60. Play four bars, rest for four bars, repeat three times.', asks: [] },
  { text: 'Your phone probably records in 4K, which takes up about 400 MB a minute.', asks: [] },
  {
    text: 'The gallery is open between 10 and 4. Tickets are 5 pounds, 3 for students. Allow 45 minutes.',
    asks: [],
  },
  {
    text: 'Bring 2 pencils, 1 eraser and an A3 pad. The session lasts 90 minutes with a 10 minute break.',
    asks: [],
  },
  { text: 'Use a 50 mm lens at f/2.8 and ISO 400 if your camera lets you.', asks: [] },
  {
    text: 'There will be 3 rounds of 2 minutes with 30 seconds between them. Winners meet on court 4 at 11:15.',
    asks: [],
  },
  { text: 'The backing track (MP3, 4 MB) is in the shared folder; the score is a PDF of 6 pages.', asks: [] },
  {
    text: 'Chapter 3 shows how portraits were painted in the 1600s; the largest is 3 by 4 metres.',
    asks: [],
  },
  {
    text: 'You scored 18 out of 25. The class average was 16.5. Two of you have to resit on 3 December.',
    asks: [],
  },
  {
    text: 'Sharpen your pencils. Work in landscape. Draw three thumbnails of 5 x 7 cm each and shade one of them.',
    asks: [],
  },
  { text: 'Heat the kiln to 1060 degrees over 8 hours and let it cool for 12.', asks: [] },
  { text: 'Run 400 m in under 80 seconds. Film it so that we can count your strides.', asks: [] },
  { text: 'Stretch each muscle for at least 20 seconds and no more than 40.', asks: [] },
  {
    text: 'Rehearsal A is from 15:30 to 17:00, rehearsal B from 17:15 to 18:45. The show is on 11 December.',
    asks: [],
  },
  {
    text: 'Movement 2 is in 3/4, the trio starts at bar 33, and the whole thing should take about 7 minutes. Record it as WAV.',
    asks: ['format wav', 'length ~7:00'],
  },
  {
    text: 'Part A is worth 30 %, part B 70 %. Part B is the video: two minutes at most.',
    asks: ['length ..2:00'],
  },
  { text: 'In groups of 5, choose 1 of 3 scripts. Each script has 4 roles and 20 lines a role.', asks: [] },
  { text: 'Print it at 20 x 30 cm on 240 gsm paper. Sign it in the lower right, number it 1/10.', asks: [] },
];
