import type { PhotoFacts } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { listChecks } from './list-checks.ts';

const detail = {
  edgePx: 1440,
  columns: 4,
  rows: 3,
  blursPx: [0.6, 0.7, 0.6, null, 0.8, 0.7, 0.9, 0.7, null, 0.6, 0.7, 0.8],
  grain: 1.2,
  writing: null,
  burntShare: 0.001,
  blackShare: 0.02,
};
const photo = {
  codec: 'jpeg',
  widthPx: 4000,
  heightPx: 3000,
  orientation: 1,
  bitDepth: 8,
  channels: 3,
  hasAlpha: false,
  colorProfile: null,
  isProgressive: false,
  frameCount: 1,
  detail,
} satisfies PhotoFacts;
const stateOf = (changes: object, label: string) =>
  listChecks({ ...photo, detail: { ...detail, ...changes } }, false).find((row) => row.label === label);

describe('what is looked at before a photograph is handed in', () => {
  it('is all met where it is well taken', () => {
    expect(listChecks(photo, true).map(({ label, state, figure }) => [label, state, figure])).toEqual([
      ['Sharp', 'met', '10 of 10 parts'],
      ['Grain', 'met', '1.2 of 255'],
      ['Burnt white', 'met', '0.1 %'],
      ['All but black', 'met', '2.0 %'],
      ['Place in the file', 'met', 'will be left out'],
    ]);
  });

  it('says what to do where it is not', () => {
    const soft = detail.blursPx.map((blur) => blur && blur * 5);
    expect(stateOf({ blursPx: soft }, 'Sharp')).toMatchObject({ state: 'short', figure: '0 of 10 parts' });
    const partly = detail.blursPx.map((blur, at) => blur && (at < 5 ? blur * 5 : blur));
    expect(stateOf({ blursPx: partly }, 'Sharp')?.then).toContain('straight in front');
    expect(stateOf({ blursPx: Array<null>(12).fill(null) }, 'Sharp')?.state).toBe('open');
    expect(stateOf({ grain: 9 }, 'Grain')?.then).toContain('more light');
    expect(stateOf({ writing: { strokePx: 0.9, heightPx: 6 } }, 'Small writing')?.state).toBe('short');
    expect(stateOf({ writing: { strokePx: 3, heightPx: 20 } }, 'Small writing')).toMatchObject({
      state: 'met',
      figure: 'strokes 3.0 px',
    });
    expect(stateOf({ burntShare: 0.2 }, 'Burnt white')?.state).toBe('short');
  });

  it('never calls a picture from a screen burnt, nor a piece whole that nobody saw', () => {
    const screen = listChecks({ ...photo, isFromScreen: true, piece: null, glareShare: 0.4 }, null);
    expect(screen.map(({ label }) => label)).toEqual(['Sharp', 'Grain', 'Whole piece', 'Place in the file']);
    expect(screen.slice(2).map(({ state }) => state)).toEqual(['open', 'open']);
  });

  it('looks at the piece alone where one was found', () => {
    const corners = [
      { x: 0.4, y: 0.2 },
      { x: 0.95, y: 0.2 },
      { x: 0.95, y: 0.95 },
      { x: 0.4, y: 0.95 },
    ] as const;
    const piece = { corners: [...corners] as never, aspect: 1, confidence: 0.9, isCutOff: false };
    // The table beside it is sharp; the piece is not.
    const blursPx = [0.6, 0.6, 0.6, 0.6, 0.7, 0.7, 3, 3, 0.6, 0.7, 3, 3];
    const told = listChecks({ ...photo, piece, detail: { ...detail, blursPx } }, false)[0];
    expect(told).toMatchObject({ label: 'Sharp', figure: 'no edges to tell by' });
    const many = {
      ...detail,
      columns: 8,
      rows: 6,
      blursPx: Array.from({ length: 48 }, (_, at) => (at % 8 > 2 ? 3 : 0.6)),
    };
    expect(listChecks({ ...photo, piece, detail: many }, false)[0]).toMatchObject({ state: 'short' });
    expect(listChecks({ ...photo, detail: many }, false)[0]?.then).toContain('straight in front');
  });
});
