/**
 * Solves linear equations by Gauss with pivots: `count` rows of factors and what they sum up to, which it
 * changes. null where they depend on one another.
 */
export function eliminate(rows: Float64Array, count: number): number[] | null {
  const width = count + 1;
  const at = (row: number, column: number) => rows[row * width + column] as number;
  const scale = Math.max(1e-300, ...Array.from({ length: count }, (_, row) => Math.abs(at(row, row))));
  for (let column = 0; column < count; column += 1) {
    let pivot = column;
    for (let row = column + 1; row < count; row += 1)
      if (Math.abs(at(row, column)) > Math.abs(at(pivot, column))) pivot = row;
    if (Math.abs(at(pivot, column)) < scale * 1e-12) return null;
    for (let each = column; each < width; each += 1) {
      const kept = at(column, each);
      rows[column * width + each] = at(pivot, each);
      rows[pivot * width + each] = kept;
    }
    for (let row = 0; row < count; row += 1) {
      if (row === column) continue;
      const by = at(row, column) / at(column, column);
      if (by === 0) continue;
      for (let each = column; each < width; each += 1)
        rows[row * width + each] = at(row, each) - by * at(column, each);
    }
  }
  return Array.from({ length: count }, (_, row) => at(row, count) / at(row, row));
}
