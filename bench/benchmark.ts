export type Row = Readonly<Record<string, string | number>>;

export interface BenchmarkResult {
  readonly tables: readonly { readonly title: string; readonly rows: readonly Row[] }[];
}

/** One benchmark; `isShort` ones make up the short form (under five minutes together). */
export interface Benchmark {
  readonly name: string;
  readonly isShort: boolean;
  /**
   * Each row is told as soon as it is there: long forms take an hour. Only the sources named, where some are.
   */
  run(isLong: boolean, tell: (row: Row) => void, sources?: readonly string[]): Promise<BenchmarkResult>;
}
