import { faultCatalogue } from '@apodix/core';
import { SiteSettings } from '@apodix/course-site';
import { ServerSettings } from '@apodix/server';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { buildFitRow, FitRow } from './build-fit-row.ts';
import { buildSchemaFiles } from './write-schemas.ts';

const read = (path: string) => readFileSync(path, 'utf8');
const readFitRows = () =>
  readdirSync('docs/measured').map((name) => FitRow.parse(JSON.parse(read(join('docs/measured', name)))));
const listRows = (text: string) =>
  [...text.matchAll(/^\| `([A-Z_a-z-]+)` \| (.+) \|$/gm)].map((match) => [
    match[1] ?? '',
    ...(match[2] ?? '').split(' | '),
  ]);

describe('docs say what the code does', () => {
  it('faults.md has every fault of the catalogue, and no other', () => {
    const rows = Object.entries(faultCatalogue).map(([code, row]) => [
      code,
      String(row.httpStatus),
      row.message,
      row.next,
    ]);
    expect(listRows(read('docs/faults.md'))).toEqual(rows);
  });

  it('settings.md has every setting with its default, and no other', () => {
    const documented = new Map(
      listRows(read('docs/settings.md')).map(([name = '', value = '']) => [name, value.replace(/`/g, '')]),
    );
    const known: Record<string, unknown> = { ...ServerSettings.parse({}), ...SiteSettings.parse({}) };
    expect([...documented.keys()].filter((name) => name !== 'APODIX_DEMO').sort()).toEqual(
      [...new Set([...Object.keys(ServerSettings.shape), ...Object.keys(SiteSettings.shape)])].sort(),
    );
    for (const [name, value] of Object.entries(known))
      if (name !== 'APODIX_JOB_COUNT') expect([name, documented.get(name)]).toEqual([name, String(value)]);
  });

  it('the JSON Schema files are those of the code (npm run schemas writes them)', () => {
    const files = buildSchemaFiles();
    expect(readdirSync('docs/schemas').sort()).toEqual(Object.keys(files).sort());
    for (const [name, text] of Object.entries(files)) expect(read(join('docs/schemas', name))).toBe(text);
  });

  it('fit.md shows every measured row as it was measured, and no other in that table', () => {
    const measured = readFitRows().map(buildFitRow);
    const text = read('docs/fit.md');
    const table = text.slice(text.indexOf('## Figures'), text.indexOf('**In no row'));
    const shown = table
      .split('\n')
      .filter((line) => /^\| [^\s-]/.test(line) && !line.startsWith('| case '))
      .map((line) => line.replace(/ +/g, ' '));
    expect(shown.toSorted()).toEqual(measured.toSorted());
    expect(shown.length).toBeGreaterThan(20);
  });

  it('fit.md is right that no row lies 0.002 below naive, and names those where naive has other bytes', () => {
    const rows = readFitRows();
    expect(rows.filter((row) => row['SSIM − naive'] < -0.002).map((row) => row.case)).toEqual([]);
    const others = rows.filter((row) => Math.abs(row['naive bytes, %'] - 100) > 0.25);
    expect(others.map((row) => `${row.case}: ${row['naive bytes, %']}`).sort()).toEqual([
      '1080 lines, 60 a second, fast, 1.3 MB: 98.6',
      '1080 lines, nearly still, 0.4 MB: 100.4',
    ]);
    expect(read('docs/fit.md')).toContain(
      'sports to 1.3 MB (1.4 % fewer) and nearly still to 0.4 MB (0.4 % more)',
    );
  });

  it('no page links to a file that is not there', () => {
    const pages = [
      'README.md',
      'CHANGELOG.md',
      ...readdirSync('docs', { recursive: true, encoding: 'utf8' })
        .filter((name) => name.endsWith('.md'))
        .map((name) => join('docs', name)),
    ];
    const broken = pages.flatMap((page) =>
      [...read(page).matchAll(/\]\(([^)#:]+)(?:#[^)]*)?\)/g)]
        .map((match) => join(dirname(page), match[1] ?? ''))
        .filter((path) => !existsSync(path))
        .map((path) => `${page} → ${path}`),
    );
    expect(broken).toEqual([]);
  });
});
