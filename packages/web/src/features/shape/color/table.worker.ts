import { buildColorTable, type ColorSettings } from '@apodix/core';

/* Bakes settings into a table, away from the page. */

export interface TableRequest {
  readonly id: number;
  readonly settings: ColorSettings;
}
export interface TableAnswer {
  readonly id: number;
  readonly edge: number;
  readonly values: Float32Array;
}

self.onmessage = (event: MessageEvent<TableRequest>) => {
  const { id, settings } = event.data;
  const { edge, values } = buildColorTable(settings);
  const answer: TableAnswer = { id, edge, values };
  (self as unknown as Worker).postMessage(answer, [values.buffer]);
};
