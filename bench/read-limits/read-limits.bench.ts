import { readInstructions } from '@apodix/core';
import { measureRatio } from '../measure-ratio.ts';
import type { Benchmark } from '../benchmark.ts';
import { crossValidate } from './cross-validate.ts';
import { dutchTexts } from '../../tests/reading/dutch-texts.ts';
import { sets } from '../../tests/reading/all-texts.ts';
import { measureReading } from '../../tests/reading/measure-reading.ts';
import { READ_AT } from '../../tests/reading/texts.ts';

/** How well and how fast instructions are read. */
export const readLimitsBenchmark: Benchmark = {
  name: 'read-limits',
  isShort: true,
  run: async () => {
    const all = Object.values(sets).flat();
    const whole = measureReading(all, READ_AT);
    const page = all
      .map((each) => each.text)
      .join('\n\n')
      .slice(0, 3000);
    const speed = measureRatio({
      baseline: 'dividing the page into words',
      runBaseline: () => page.split(/\W+/).length,
      run: () => readInstructions(page, { now: READ_AT }).limits.length,
      seconds: 2,
    });
    const unseen = await crossValidate();
    return {
      tables: [
        {
          title: `Reading ${all.length} texts by kind`,
          rows: whole.rows.map((row) => ({
            kind: row.kind,
            right: row.right,
            missed: row.missed,
            invented: row.invented,
          })),
        },
        {
          title: 'Reading by set',
          rows: Object.entries(sets).map(([name, texts]) => ({
            set: name,
            texts: texts.length,
            ...shares(measureReading(texts, READ_AT)),
          })),
        },
        {
          title: 'All texts',
          rows: [{ ...shares(whole), wishes: `${whole.wishesFound} of ${whole.wishesWanted}` }],
        },
        {
          title: 'Dutch, as a trial (its words and these texts by one hand)',
          rows: [{ texts: dutchTexts.length, ...shares(measureReading(dutchTexts, READ_AT)) }],
        },
        {
          title: 'A page of 3000 signs',
          rows: [{ baseline: speed.baseline, 'ms a page': speed.milliseconds, ratio: speed.ratio }],
        },
        ...(unseen
          ? [
              { title: 'Texts of other hands, read with what was learned from the rest', rows: unseen.bySet },
              { title: 'The same by field, in six folds', rows: unseen.byField },
            ]
          : []),
      ],
    };
  },
};

const shares = (result: ReturnType<typeof measureReading>) => ({
  precision: Number(result.precision.toFixed(3)),
  recall: Number(result.recall.toFixed(3)),
});
