// Writes docs/schemas/*.schema.json from the Zod schemas of core: tsx --conditions=source
// scripts/write-schemas.ts [FOLDER]
import { Finding, Limits, MediaFacts, Plan, Receipt, Recipe } from '@apodix/core';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';

const schemas = {
  facts: ['What inspection measured of one file', MediaFacts],
  limits: ['What an assignment asks for, as checkable limits', Limits],
  recipe: ['What to do to a take', Recipe],
  plan: ['The exact output settings and predicted figures', Plan],
  findings: ['One finding a limit', z.array(Finding)],
  receipt: ['What was delivered, when, and what was proven on it', Receipt],
} as const;

/** The text of every schema file by its name. */
export function buildSchemaFiles(): Record<string, string> {
  return Object.fromEntries(
    Object.entries(schemas).map(([name, [title, schema]]) => [
      `${name}.schema.json`,
      `${JSON.stringify({ title, ...z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) }, null, 2)}\n`,
    ]),
  );
}

if (process.argv[1]?.endsWith('write-schemas.ts')) {
  const folder = process.argv[2] ?? 'docs/schemas';
  await mkdir(folder, { recursive: true });
  for (const [name, text] of Object.entries(buildSchemaFiles())) await writeFile(join(folder, name), text);
}
