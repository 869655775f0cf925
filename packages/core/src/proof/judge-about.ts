import { when, type ProofEvidence, type Row } from './proof-evidence.ts';

/** Whether the file tells about the piece what it was to tell; null where nothing was, or for a document. */
export function judgeAbout({ about, facts }: ProofEvidence): Row | null {
  if (!about || !facts.photo) return null;
  const found = facts.photo.about ?? { title: '', artist: '', rights: '' };
  const names = ['title', 'artist', 'rights'] as const;
  const wanted = names.filter((name) => about[name].trim() !== '');
  const missing = wanted.filter((name) => found[name] !== about[name].trim());
  return {
    state: when(missing.length === 0),
    label: 'Told in the file',
    figure: `${wanted.length - missing.length} of ${wanted.length}`,
    value: missing.length,
    unit: null,
    wanted: wanted.join(', '),
    method: 'metadata of the file (IPTC and XMP)',
    sentence:
      missing.length === 0
        ? `It tells ${joinWords(wanted)}.`
        : `It does not tell the ${joinWords(missing)} that was to be told.`,
  };
}

const joinWords = (words: readonly string[]) =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;
