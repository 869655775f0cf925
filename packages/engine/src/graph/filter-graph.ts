/** One chain of a filter graph: where it reads from, what it does, and the pads that it ends in. */
export interface Chain {
  readonly from: readonly string[];
  readonly filters: readonly string[];
  readonly to: readonly string[];
}

/** Writes chains as FFmpeg reads them; a chain without filters passes on what it is given. */
export function writeGraph(chains: readonly Chain[]): string {
  const pads = (names: readonly string[]) => names.map((name) => `[${name}]`).join('');
  return chains
    .map(({ from, filters, to }) => {
      if (to.length === 0 && from.length === 0) throw new TypeError('A chain needs a pad.');
      return `${pads(from)}${filters.length > 0 ? filters.join(',') : 'null'}${pads(to)}`;
    })
    .join(';');
}

/** Divides a pad into several of the same. */
export function splitPicture(from: string, to: readonly string[], before: readonly string[] = []): Chain {
  return to.length === 1
    ? { from: [from], filters: before, to }
    : { from: [from], filters: [...before, `split=${to.length}`], to };
}

export function splitSound(from: string, to: readonly string[], before: readonly string[] = []): Chain {
  const filters = to.length === 1 ? [...before] : [...before, `asplit=${to.length}`];
  return { from: [from], filters: filters.length > 0 ? filters : ['anull'], to };
}
