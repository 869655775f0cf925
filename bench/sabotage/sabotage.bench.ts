import { inspectMedia, proveMade, type Inspected } from '@apodix/engine';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildOwnRecipe, makeRightFile, makeWrongFile } from '../../tests/sabotage/make-files.ts';
import { rightFiles } from '../../tests/sabotage/right-files.ts';
import {
  makeBrightTake,
  makeMovingTake,
  makeOtherTake,
  makeWanderingTake,
} from '../../tests/sabotage/takes.ts';
import { wrongFiles } from '../../tests/sabotage/wrong-files.ts';
import type { Benchmark, Row } from '../benchmark.ts';

/**
 * Every file made wrong in one way, and each made right by other hands: what the proof says of it. With
 * `--sources` only those whose name has one of the given parts.
 */
export const sabotageBenchmark: Benchmark = {
  name: 'sabotage',
  isShort: false,
  run: async (_isLong, tell, only) => {
    const isAsked = ({ name }: { readonly name: string }) =>
      !only || only.some((part) => name.includes(part));
    const folder = await mkdtemp(join(tmpdir(), 'apodix-sabotage-'));
    try {
      await makeMovingTake(folder);
      await makeOtherTake(folder);
      await makeBrightTake(folder);
      await makeWanderingTake(folder);
      const takes = new Map<string, Inspected>();
      for (const name of ['take.mp4', 'bright.mov', 'wandering.mp4'])
        takes.set(join(folder, name), await inspectMedia(join(folder, name), { scratchFolder: folder }));
      const rows: Row[] = [];
      const judge = async (
        kind: 'wrong' | 'right',
        file: { readonly name: string } & Parameters<typeof buildOwnRecipe>[0],
        made: { readonly madePath: string; readonly sourcePath: string },
      ) => {
        const take = takes.get(made.sourcePath);
        if (!take) throw new Error(`There is no take ${made.sourcePath}.`);
        const { findings, refusal } = await proveMade({
          madePath: made.madePath,
          recipe: buildOwnRecipe(file),
          take,
          timeline: null,
          isSoundWanted: null,
        }).then(
          (proof) => ({ findings: proof.findings, refusal: '' }),
          (error: Error) => ({ findings: [], refusal: error.message }),
        );
        const list = (wanted: (state: string) => boolean) =>
          findings.filter(({ state }) => wanted(state)).map(({ row }) => row);
        const short = list((state) => state === 'short');
        const open = list((state) => state !== 'short' && state !== 'met');
        // What is wrong has to be seen as wrong; what is right has to be met in every row.
        const isAsItShould =
          kind === 'wrong' ? short.length > 0 : short.length + open.length === 0 && refusal === '';
        const figure = (of: string) => findings.find(({ row }) => row === of)?.figure ?? '';
        const row = {
          kind,
          file: file.name,
          verdict: isAsItShould ? 'right' : 'MISTAKEN',
          short: short.join(' '),
          open: [...open, refusal].join(' ').trim(),
          colors: figure('color'),
          edges: figure('geometry'),
        };
        rows.push(row);
        tell(row);
        await rm(made.madePath, { force: true });
      };
      for (const [index, file] of wrongFiles.filter(isAsked).entries())
        await judge('wrong', file, await makeWrongFile(file, folder, index));
      for (const [index, file] of rightFiles.filter(isAsked).entries())
        await judge('right', file, await makeRightFile(file, folder, index));
      const count = (kind: string) => rows.filter((row) => row.kind === kind);
      const mistaken = (kind: string) => count(kind).filter((row) => row.verdict !== 'right').length;
      return {
        tables: [
          {
            title: 'Sabotage',
            rows: ['wrong', 'right'].map((kind) => ({
              kind,
              files: count(kind).length,
              mistaken: mistaken(kind),
            })),
          },
        ],
      };
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  },
};
