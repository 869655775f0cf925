/** Keeps `blob_refs` true to the rows: whatever writes them, the database itself notes what they speak of. */
export function noteReferences(table: string, kind: string, digests: (row: string) => string): string[] {
  const owner = (row: string) => `'${kind}:' || ${row}.id`;
  const clear = (row: string) => `DELETE FROM blob_refs WHERE owner = ${owner(row)};`;
  const note = `INSERT OR IGNORE INTO blob_refs (sha256, owner) SELECT value, ${owner('NEW')} FROM (${digests('NEW')}) WHERE value IS NOT NULL;`;
  return [
    `CREATE TRIGGER ${table}_refs_insert AFTER INSERT ON ${table} BEGIN ${note} END`,
    `CREATE TRIGGER ${table}_refs_update AFTER UPDATE ON ${table} BEGIN ${clear('OLD')} ${note} END`,
    `CREATE TRIGGER ${table}_refs_delete AFTER DELETE ON ${table} BEGIN ${clear('OLD')} END`,
    // What is there already is noted by being touched.
    `UPDATE ${table} SET id = id`,
  ];
}

export const columns = (names: readonly string[]) => (row: string) =>
  names.map((name) => `SELECT ${row}.${name} AS value`).join(' UNION ');
