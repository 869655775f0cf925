import { execa } from 'execa';
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect, it } from 'vitest';

const engine = pathToFileURL(resolve('packages/engine/dist/bundled/index.js')).href;

/** Told of every module that is imported; what is required stands in a list of Node's own. */
const HOOK = `import { writeSync } from 'node:fs';
export async function resolve(name, context, next) {
  const found = await next(name, context);
  writeSync(1, found.url + '\\n');
  return found;
}`;
const BEGIN = `import { createRequire, register } from 'node:module';
register(${JSON.stringify(`data:text/javascript,${encodeURIComponent(HOOK)}`)});`;
const END = 'for (const path of Object.keys(createRequire(import.meta.url).cache)) console.log(path);';

/** Packages that a fresh process has loaded after these lines. */
async function listLoaded(lines: string): Promise<string[]> {
  const text = [BEGIN, lines, END].join('\n');
  const { stdout } = await execa(process.execPath, ['--input-type=module', '-e', text], {
    cwd: resolve('packages/engine'),
  });
  return [
    ...new Set(stdout.split('\n').flatMap((path) => /node_modules\/(@?[^/]+)/.exec(path)?.[1] ?? [])),
  ].sort();
}

it('a process begins without fonts, PDF and recognising; the font comes with the first letters', async () => {
  const load = `const { layOutCard } = await import(${JSON.stringify(engine)});`;
  const before = await listLoaded(load);
  for (const heavy of ['fontkit', 'pdfkit', 'pdf-lib', 'tesseract.js']) expect(before).not.toContain(heavy);
  expect(before).toContain('sharp');
  const card = "{ title: 'Nocturne', lines: ['Ann'], lengthUs: 3_000_000 }";
  const after = await listLoaded(`${load}\nlayOutCard(${card}, { widthPx: 640, heightPx: 360 });`);
  expect(after).toContain('fontkit');
});
