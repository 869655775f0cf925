// Learns what the reader decides by and writes it into core: npx tsx --conditions=source bench/read-
// limits/write-models.ts [SET…]
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { LinearModel } from '@apodix/core';
import { readJudgedSet, setNames } from './judged-texts.ts';
import { trainReader } from './train.ts';

const wanted = setNames.filter((name) => process.argv.length < 3 || process.argv.includes(name));
const models = trainReader(wanted.flatMap((name) => readJudgedSet(name) ?? []));
const folder = join(import.meta.dirname, '../../packages/core/src/limits/deciding');

const write = (name: string, doc: string, { bias, weights }: LinearModel) => `/** ${doc} */
export const ${name}: LinearModel = {
  bias: ${bias},
  weights: {
${Object.entries(weights)
  .map(([feature, weight]) => `    '${feature.replace(/\\/g, '\\\\').replace(/'/g, "\\'")}': ${weight},`)
  .join('\n')}
  },
};
`;
const head = `// Learned by bench/read-limits/write-models.ts from labelled texts; not written by hand.
import type { LinearModel } from './linear-model.ts';

`;
writeFileSync(
  join(folder, 'slot-model.ts'),
  head + write('slotModel', 'Whether a kind that a text speaks of is to be handed in.', models.slot),
);
writeFileSync(
  join(folder, 'quantity-model.ts'),
  `${head}${write('durationModel', 'Whether a length of time is how long what is handed in may last.', models.duration)}
${write('bytesModel', 'Whether a size in bytes is how large a file that is handed in may be.', models.bytes)}`,
);
