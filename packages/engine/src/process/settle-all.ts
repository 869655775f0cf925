/**
 * Like `Promise.all`, but where one fails it waits for the others to end first: nothing goes on in a folder
 * that is about to be removed. Throws what failed first in the order given.
 */
export async function settleAll<T extends readonly unknown[]>(
  work: readonly [...{ [K in keyof T]: Promise<T[K]> | T[K] }],
): Promise<T> {
  const ends = await Promise.allSettled(work.map((each) => Promise.resolve(each)));
  const failed = ends.find((end): end is PromiseRejectedResult => end.status === 'rejected');
  if (failed) throw failed.reason;
  return ends.map((end) => (end.status === 'fulfilled' ? end.value : undefined)) as unknown as T;
}
