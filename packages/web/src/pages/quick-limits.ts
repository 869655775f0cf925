import { containerTable, Limit, parseContainerName } from '@apodix/core';

export interface QuickForm {
  readonly format: string;
  readonly maxMegabytes: string;
  readonly longest: string;
  readonly lines: string;
}

export const emptyQuickForm = (): QuickForm & Record<string, string> => ({ format: '', maxMegabytes: '', longest: '', lines: '' });

/** Turns the fields of Quick fit into limits; what cannot be read is told, not dropped. MB is 10^6 bytes. */
export function buildQuickLimits(form: QuickForm): { limits: Limit[]; faults: string[] } {
  const limits: Limit[] = [];
  const faults: string[] = [];
  const add = (raw: Record<string, unknown>) => limits.push(Limit.parse({ id: `set-${limits.length + 1}`, isChangedByPerson: true, ...raw }));
  const container = form.format === '' ? null : parseContainerName(form.format);
  if (container) add({ kind: 'format', wanted: [container], appliesTo: containerTable[container].kind });
  if (form.maxMegabytes.trim() !== '') {
    const bytes = Math.floor(Number(form.maxMegabytes.replace(',', '.')) * 1e6);
    if (bytes >= 1000) add({ kind: 'file-size', maxBytes: bytes });
    else faults.push('The size has to be a number of megabytes, such as 20 or 1.5.');
  }
  if (form.longest.trim() !== '') {
    const match = /^(?:(\d{1,2}):)?(\d{1,3}):(\d{2}(?:\.\d+)?)$|^(\d+(?:\.\d+)?)\s*(s|sec|seconds?|min|minutes?)?$/.exec(form.longest.trim());
    const seconds = !match ? 0 : match[3] !== undefined ? Number(match[1] ?? 0) * 3600 + Number(match[2]) * 60 + Number(match[3]) : Number(match[4]) * (match[5]?.startsWith('m') ? 60 : 1);
    if (seconds > 0) add({ kind: 'length', maxUs: Math.round(seconds * 1e6) });
    else faults.push('The length has to look like 2:00 or 90 s.');
  }
  if (form.lines.trim() !== '') {
    const lines = Number(form.lines);
    if (Number.isInteger(lines) && lines >= 16) add({ kind: 'picture-edge', edge: 'lines', max: lines });
    else faults.push('The picture has to be a whole number of lines, such as 1080.');
  }
  return { limits, faults };
}
