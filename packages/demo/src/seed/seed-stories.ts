import type { RichBlock, Sheet } from '@apodix/core';
import { join } from 'node:path';
import type { OnStep } from '../media/generate-media.ts';
import { ApiClient } from './api-client.ts';

interface Story {
  readonly title: string;
  readonly assignmentId: string;
  tell(client: ApiClient, media: string): Promise<void>;
}

const text = (participants = '', note = '') => ({ note, participants, isOwnWork: true });

async function shapeAndMake(client: ApiClient, assignmentId: string, takeId: string): Promise<void> {
  const take = (await client.readAssignment(assignmentId)).takes.find((each) => each.id === takeId);
  if (take?.recipe) await client.writeRecipe(takeId, take.recipe.recipe, take.recipe.version);
  await client.make(takeId);
}

async function fillAndHandIn(
  client: ApiClient,
  assignmentId: string,
  words: ReturnType<typeof text>,
): Promise<void> {
  const { parcel } = await client.readAssignment(assignmentId);
  await client.writeParcel(assignmentId, { ...parcel, text: words });
  await client.handIn(assignmentId);
}

const say = (kind: RichBlock['kind'], words: string, isBold = false): RichBlock => ({
  kind,
  runs: [{ text: words, isBold, isItalic: false }],
});

/** Two stages of the linocut beside what Ineke writes about them. */
function layOutSeries(block: string, first: string): Sheet {
  return {
    layout: 'response',
    paper: 'a4',
    title: 'High water: from block to print',
    pieces: [
      {
        takeId: block,
        title: 'The block, uncut',
        medium: 'lino, drawn with a soft pencil',
        size: '40 × 28 cm',
        date: 'October 2026',
        answer: [
          say('heading', 'What I planned'),
          say(
            'paragraph',
            'The water rises in even lines, so that the mountains look as if they stood in it up to the knee.',
          ),
          say('bullet', 'three colours, the darkest last'),
          say('bullet', 'the moon stays the white of the paper'),
        ],
      },
      {
        takeId: first,
        title: 'First colour',
        medium: 'linocut on washi',
        size: '40 × 28 cm',
        date: 'November 2026',
        answer: [
          say('heading', 'What happened'),
          say(
            'paragraph',
            'The ink was too thin on the left: the lines there have ragged edges. I kept it, as it looks like spray.',
          ),
          say('number', 'Let the ink stand for ten minutes.'),
          say('number', 'Roll it out twice.'),
        ],
      },
    ],
  };
}

/** What Ineke has done so far, told through the same interface that her browser uses. */
const stories: readonly Story[] = [
  {
    title: 'Marimba solo: made, not handed in',
    assignmentId: 'marimba',
    tell: async (client, media) => {
      const [, second] = await Promise.all([
        client.bringIn('marimba', join(media, 'marimba-take-one.mov'), 'Take one.mov'),
        client.bringIn('marimba', join(media, 'marimba-take-two.mov'), 'Take two.mov'),
      ]);
      await client.choose(second);
      await shapeAndMake(client, 'marimba', second);
      const { parcel } = await client.readAssignment('marimba');
      await client.writeParcel('marimba', {
        ...parcel,
        text: { note: 'Take two. The phone was on a stand.', participants: '', isOwnWork: true },
      });
    },
  },
  {
    title: 'Listening diary: begun',
    assignmentId: 'listening',
    tell: async (client) => {
      const { parcel } = await client.readAssignment('listening');
      if (parcel.answers.length > 0) return;
      const why =
        'She lets every long note grow before it dies, and waits so long before the last line that one hears the room. I would like to dare such a pause in bar 32.';
      await client.writeParcel('listening', { ...parcel, answers: [{ slotId: 'why', text: why }] });
    },
  },
  {
    title: 'Linocut: two of three photographs made',
    assignmentId: 'linocut',
    tell: async (client, media) => {
      const [block, first] = await Promise.all([
        client.bringIn('linocut', join(media, 'block-uncut.jpg'), 'Block, uncut.jpg'),
        client.bringIn('linocut', join(media, 'print-first-color.jpg'), 'First colour.jpg'),
      ]);
      await shapeAndMake(client, 'linocut', block);
      await shapeAndMake(client, 'linocut', first);
      await client.writeSheet('linocut', layOutSeries(block, first));
    },
  },
  {
    title: 'Monologue: handed in, feedback back',
    assignmentId: 'salt-ledger',
    tell: async (client, media) => {
      await client.bringIn('salt-ledger', join(media, 'monologue-take-one.mp4'), 'Monologue take one.mp4');
      const second = await client.bringIn(
        'salt-ledger',
        join(media, 'monologue-take-two.mp4'),
        'Monologue take two.mp4',
      );
      await client.choose(second);
      await shapeAndMake(client, 'salt-ledger', second);
      await fillAndHandIn(client, 'salt-ledger', text('Temi Oyelaran filmed it'));
    },
  },
  {
    title: 'Listening study: handed in',
    assignmentId: 'two-part',
    tell: async (client, media) => {
      await shapeAndMake(
        client,
        'two-part',
        await client.bringIn('two-part', join(media, 'lower-part.wav'), 'Lower part.wav'),
      );
      await fillAndHandIn(client, 'two-part', text());
    },
  },
  {
    title: 'Two angles: takes are here',
    assignmentId: 'two-angles',
    tell: async (client, media) => {
      await Promise.all([
        client.bringIn('two-angles', join(media, 'hurdles-side.mp4'), 'Side.mp4'),
        client.bringIn('two-angles', join(media, 'hurdles-front.mp4'), 'Front.mp4'),
      ]);
    },
  },
  {
    title: 'Grey card: a photograph from a phone',
    assignmentId: 'grey-card',
    tell: async (client, media) => {
      await client.bringIn('grey-card', join(media, 'print-full.heic'), 'Print on the table.heic');
    },
  },
];

/** Tells every story that has not been told; safe to run again after an interruption. */
export async function seedStories(
  apodixUrl: string,
  courseSite: TeachersSite,
  mediaFolder: string,
  onStep: OnStep,
): Promise<void> {
  const client = new ApiClient(apodixUrl);
  await client.signIn('ineke');
  let done = 0;
  const queue = [...stories];
  const work = async () => {
    for (let story = queue.shift(); story; story = queue.shift()) {
      const { takes } = await client.readAssignment(story.assignmentId);
      if (takes.length === 0) await story.tell(client, mediaFolder);
      done += 1;
      onStep(done, stories.length, story.title);
    }
  };
  await Promise.all([work(), work()]);
  await giveFeedback(courseSite, client);
}

/** The course site, as a teacher signs in to it. */
export interface TeachersSite {
  readonly url: string;
  readonly name: string;
  readonly password: string;
}

/** Signs a teacher in; gives what goes into the `authorization` header. */
export async function signInAsTeacher({ url, name, password }: TeachersSite): Promise<string> {
  const answer = await fetch(new URL('/api/session', url), {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name, password }),
  });
  if (!answer.ok) throw new Error(`The course site does not let ${name} in: ${answer.status}`);
  const { token } = (await answer.json()) as { token: string };
  return `Bearer ${token}`;
}

async function giveFeedback(site: TeachersSite, client: ApiClient): Promise<void> {
  const { receiptId } = await client.readAssignment('salt-ledger');
  if (!receiptId) return;
  const { courseSite } = await client.readReceipt(receiptId);
  await fetch(new URL(`/api/deliveries/${courseSite.deliveryId}/feedback`, site.url), {
    method: 'PUT',
    headers: { 'content-type': 'application/json', authorization: await signInAsTeacher(site) },
    body: JSON.stringify({
      text: 'The pause before the last line is the best thing in it: keep it. Your left hand tells a second story; decide whether you want that. Louder in the first ten seconds.',
      points: 21,
    }),
  });
}
