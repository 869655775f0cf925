import { Announcement, Limit, type RawAnnouncement, type Slot } from '@apodix/core';

type RawLimit = { kind: string; words?: string } & Record<string, unknown>;
const limits = (...raw: RawLimit[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index + 1}`, ...each }));
const slot = (id: string, label: string, item: Slot['item'], min: number, max: number) => ({
  id,
  label,
  item,
  min,
  max,
});
const S = 1_000_000;
const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** The assignments of the four courses; due times are counted from the first start. */
export function buildAssignments(now: number): Announcement[] {
  const at = (offset: number) => new Date(Math.round((now + offset) / 900_000) * 900_000).toISOString();
  const common: Pick<
    RawAnnouncement,
    'materials' | 'rubric' | 'points' | 'attemptsAllowed' | 'isLateAllowed'
  > = { materials: [], rubric: [], points: null, attemptsAllowed: 3, isLateAllowed: false };
  const announcements: RawAnnouncement[] = [
    {
      ...common,
      id: 'marimba',
      courseId: 'solo',
      title: 'Marimba solo, first movement',
      setAt: at(-9 * DAY),
      dueAt: at(2 * DAY + 4 * HOUR),
      points: 40,
      instructions:
        'Please film one performance of the first movement, from bar 1 to bar 48, at about 104 to the crotchet. Your recording should last between half a minute and 45 seconds. Hold the phone sideways on a stand so that I can see both hands and your face. It has to be a single take, no edits; cutting the ends is fine. Hand in an MP4 of no more than 12 megs, full HD at most, and call it Surname_Firstname_Piece. The sound should lie between −20 and −14 LUFS. Room 12 is free at lunch.',
      limits: limits(
        {
          kind: 'length',
          minUs: 30 * S,
          maxUs: 45 * S,
          appliesTo: 'video',
          words: 'between half a minute and 45 seconds',
        },
        { kind: 'file-size', maxBytes: 12_000_000, isAmbiguous: true, words: 'no more than 12 megs' },
        { kind: 'format', wanted: ['mp4'], appliesTo: 'video', words: 'an MP4' },
        { kind: 'picture-edge', edge: 'lines', max: 1080, words: 'full HD at most' },
        { kind: 'orientation', wanted: 'landscape', words: 'sideways' },
        { kind: 'loudness', min: -20, max: -14, words: 'between −20 and −14 LUFS' },
        { kind: 'sound-present', isWanted: true, words: 'The sound' },
        {
          kind: 'in-view',
          severity: 'should',
          parts: ['face', 'hands'],
          appliesTo: 'video',
          words: 'both hands and your face',
        },
        { kind: 'one-take', words: 'a single take, no edits' },
        { kind: 'file-name', pattern: 'Surname_Firstname_Piece', words: 'Surname_Firstname_Piece' },
      ),
      slots: [slot('video', 'Performance video', 'video', 1, 1)],
      materials: [
        {
          title: 'Bar plan, first movement',
          note: 'text, 1 page',
          text: 'Bars 1 to 16: pattern in the right hand. Bars 17 to 32: the pattern moves up a step. Bars 33 to 48: both hands, then let the last note die away.',
        },
      ],
      rubric: [
        { label: 'Notes and rhythm', points: 15 },
        { label: 'Sound', points: 10 },
        { label: 'Shape of the phrase', points: 10 },
        { label: 'Presence', points: 5 },
      ],
    },
    {
      ...common,
      id: 'linocut',
      courseId: 'print',
      title: 'Linocut series: high water',
      setAt: at(-12 * DAY),
      dueAt: at(6 * DAY + 2 * HOUR),
      points: 30,
      instructions:
        'Hand in three photographs of your linocut: the uncut block, the first colour and the full print. JPEG please, at most 900 kB each, the long edge between 1200 and 1800 pixels. The whole piece must be in view. Take out where it was photographed.',
      limits: limits(
        { kind: 'format', wanted: ['jpeg'], appliesTo: 'photo', words: 'JPEG please' },
        { kind: 'file-size', maxBytes: 900_000, isAmbiguous: true, words: 'at most 900 kB each' },
        {
          kind: 'picture-edge',
          edge: 'long',
          min: 1200,
          max: 1800,
          words: 'the long edge between 1200 and 1800 pixels',
        },
        { kind: 'whole-piece', severity: 'should', words: 'The whole piece must be in view' },
        { kind: 'location-removed', words: 'Take out where it was photographed' },
      ),
      slots: [slot('photos', 'Photographs of the stages', 'photo', 3, 3)],
      rubric: [
        { label: 'Cutting', points: 10 },
        { label: 'Registration', points: 10 },
        { label: 'Photograph', points: 10 },
      ],
    },
    {
      ...common,
      id: 'lead-leg',
      courseId: 'movement',
      title: 'Lead-leg study, hurdles',
      setAt: at(-5 * DAY),
      dueAt: at(9 * HOUR),
      points: 20,
      instructions:
        'Film one run over a single hurdle from the side, at 50 pictures a second or more. MP4, at most 6 MB, no longer than 8 seconds. Sound is not needed.',
      limits: limits(
        { kind: 'format', wanted: ['mp4'], appliesTo: 'video', words: 'MP4' },
        { kind: 'file-size', maxBytes: 6_000_000, isAmbiguous: true, words: 'at most 6 MB' },
        { kind: 'length', maxUs: 8 * S, appliesTo: 'video', words: 'no longer than 8 seconds' },
        { kind: 'frame-rate', min: 50, words: 'at 50 pictures a second or more' },
      ),
      slots: [slot('run', 'Run from the side', 'video', 1, 1)],
    },
    {
      ...common,
      id: 'salt-ledger',
      courseId: 'devised',
      title: 'Monologue from “The Salt Ledger”',
      setAt: at(-16 * DAY),
      dueAt: at(1 * DAY + 6 * HOUR),
      points: 25,
      instructions:
        'Perform your monologue in one take, no longer than 30 seconds. MP4, at most 8 MB, 720 lines or fewer. Tell me who filmed you.',
      limits: limits(
        { kind: 'format', wanted: ['mp4'], appliesTo: 'video', words: 'MP4' },
        { kind: 'length', maxUs: 30 * S, appliesTo: 'video', words: 'no longer than 30 seconds' },
        { kind: 'file-size', maxBytes: 8_000_000, isAmbiguous: true, words: 'at most 8 MB' },
        { kind: 'picture-edge', edge: 'lines', max: 720, words: '720 lines or fewer' },
        { kind: 'sound-present', isWanted: true, words: 'Perform your monologue' },
        { kind: 'participants', words: 'Tell me who filmed you' },
      ),
      slots: [slot('video', 'Performance video', 'video', 1, 1)],
      rubric: [
        { label: 'Voice', points: 10 },
        { label: 'Movement', points: 10 },
        { label: 'Presence', points: 5 },
      ],
    },
    {
      ...common,
      id: 'two-angles',
      courseId: 'movement',
      title: 'One hurdle, two angles',
      setAt: at(-3 * DAY),
      dueAt: at(8 * DAY),
      dueByGroup: [
        { group: 'Monday group', dueAt: at(8 * DAY) },
        { group: 'Thursday group', dueAt: at(5 * DAY + 3 * HOUR) },
      ],
      points: 20,
      instructions:
        'Two videos of the same run: one from the side, one from the front. MP4, at most 5 MB each.',
      limits: limits(
        { kind: 'format', wanted: ['mp4'], appliesTo: 'video', words: 'MP4' },
        { kind: 'file-size', maxBytes: 5_000_000, isAmbiguous: true, words: 'at most 5 MB each' },
      ),
      slots: [slot('angles', 'Side and front', 'video', 2, 2)],
    },
    {
      ...common,
      id: 'grey-card',
      courseId: 'print',
      title: 'Print beside a grey card',
      setAt: at(-2 * DAY),
      dueAt: at(4 * DAY + 5 * HOUR),
      points: 10,
      instructions:
        'One photograph of your print. JPEG of at most 2 MB, at least 1500 pixels on the long edge.',
      limits: limits(
        { kind: 'format', wanted: ['jpeg'], appliesTo: 'photo', words: 'JPEG' },
        { kind: 'file-size', maxBytes: 2_000_000, isAmbiguous: true, words: 'at most 2 MB' },
        { kind: 'picture-edge', edge: 'long', min: 1500, words: 'at least 1500 pixels on the long edge' },
      ),
      slots: [slot('photo', 'Photograph', 'photo', 1, 1)],
    },
    {
      ...common,
      id: 'cold-reading',
      courseId: 'devised',
      title: 'Cold reading',
      setAt: at(-6 * DAY),
      dueAt: at(3 * DAY + 3 * HOUR),
      points: 15,
      instructions:
        'Read the page that I handed out, without rehearsal. MP4, at least 10 seconds, at most 6 MB.',
      limits: limits(
        { kind: 'format', wanted: ['mp4'], appliesTo: 'video', words: 'MP4' },
        { kind: 'length', minUs: 10 * S, appliesTo: 'video', words: 'at least 10 seconds' },
        { kind: 'file-size', maxBytes: 6_000_000, isAmbiguous: true, words: 'at most 6 MB' },
      ),
      slots: [slot('video', 'Reading', 'video', 1, 1)],
    },
    {
      ...common,
      id: 'two-part',
      courseId: 'solo',
      title: 'Two-part listening study',
      setAt: at(-7 * DAY),
      dueAt: at(20 * HOUR),
      points: 15,
      instructions: 'Record the lower part alone, sound only. M4A or MP3 of at most 1 MB.',
      limits: limits(
        { kind: 'format', wanted: ['m4a', 'mp3'], appliesTo: 'sound', words: 'M4A or MP3' },
        { kind: 'file-size', maxBytes: 1_000_000, isAmbiguous: true, words: 'at most 1 MB' },
      ),
      slots: [slot('sound', 'Sound recording', 'sound', 1, 1)],
    },
    {
      ...common,
      id: 'ensemble',
      courseId: 'solo',
      title: 'Ensemble piece: rain on tin',
      setAt: at(-1 * DAY),
      dueAt: at(12 * DAY),
      points: 40,
      instructions:
        'Film your group playing “Rain on tin” from start to finish. MP4, two to four minutes, at most 100 MB. Name everyone who plays.',
      // Prose alone: Apodix reads the limits from it.
      limits: [],
      slots: [slot('video', 'Performance video', 'video', 1, 1)],
    },
    {
      ...common,
      id: 'listening',
      courseId: 'solo',
      title: 'Listening diary, week 3',
      setAt: at(-2 * DAY),
      dueAt: at(5 * DAY),
      points: 5,
      instructions:
        'Choose a recording that you admire. Say in your own words what the player does that you would like to do, in about 150 words, and give the address at which it can be heard.',
      limits: limits({ kind: 'own-work', words: 'in your own words' }),
      slots: [
        slot('why', 'What you would like to do', 'text', 1, 1),
        slot('where', 'Where it can be heard', 'link', 1, 1),
      ],
    },
    {
      ...common,
      id: 'warm-up',
      courseId: 'movement',
      title: 'Warm-up routine',
      setAt: at(-14 * DAY),
      dueAt: at(-1 * DAY - 3 * HOUR),
      isLateAllowed: true,
      points: 10,
      instructions: 'Film your warm-up. MP4, at most 50 MB. Late work is taken, with a point off.',
      limits: limits(
        { kind: 'format', wanted: ['mp4'], appliesTo: 'video', words: 'MP4' },
        { kind: 'file-size', maxBytes: 50_000_000, isAmbiguous: true, words: 'at most 50 MB' },
      ),
      slots: [slot('video', 'Warm-up', 'video', 1, 1)],
    },
  ];
  return announcements.map((each) => Announcement.parse(each));
}
