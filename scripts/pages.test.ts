import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

const MOST_LINES = 60;
const source = join(import.meta.dirname, '../packages/web/src');
const files = (readdirSync(source, { recursive: true }) as string[]).filter((name) =>
  /\.(vue|ts)$/.test(name),
);

describe('the pages', () => {
  it('only connect: their scripts are short', () => {
    const long = files
      .filter((name) => /(Page|Layout)\.vue$/.test(name))
      .map((name) => {
        const script = /<script[^>]*>([\s\S]*?)<\/script>/.exec(
          readFileSync(join(source, name), 'utf8'),
        )?.[1];
        return [name, (script ?? '').trim().split('\n').length] as const;
      })
      .filter(([, lines]) => lines > MOST_LINES);
    expect(long).toEqual([]);
  });

  it('ask in words of their own: no box of the browser’s', () => {
    const asking = files.filter(
      (name) =>
        !name.endsWith('.test.ts') &&
        /(window\.|\.|[^\w.])(confirm|prompt|alert)\(/.test(readFileSync(join(source, name), 'utf8')),
    );
    expect(asking).toEqual([]);
  });

  it('leave nothing too small for a finger', () => {
    const readForFingers = (name: string) =>
      readFileSync(join(source, name), 'utf8').replace(/@media \(pointer: fine\) \{[\s\S]*?\n\}/g, '');
    const small = files.flatMap((name) =>
      [...readForFingers(name).matchAll(/min-height: (\d+)px/g)]
        .filter(([, height]) => Number(height) < 40)
        .map(([rule]) => `${name}: ${rule}`),
    );
    expect(small).toEqual([]);
  });
});
