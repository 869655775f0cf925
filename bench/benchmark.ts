export type Row = Readonly<Record<string, string | number>>;

export interface BenchmarkResult {
  readonly tables: readonly { readonly title: string; readonly rows: readonly Row[] }[];
}

/** One benchmark; `isShort` ones make up the short form (under five minutes together). */
export interface Benchmark {
  readonly name: string;
  readonly isShort: boolean;
  run(isLong: boolean): Promise<BenchmarkResult>;
}
