/** One step of the database's form, as SQL statements that are carried out in one transaction. */
export interface Migration {
  readonly name: string;
  readonly statements: readonly string[];
}
