import type { Sequelize, Transaction } from 'sequelize';

/**
 * One step of the database's form: SQL statements, and what is converted after them, all in one transaction.
 */
export interface Migration {
  readonly name: string;
  readonly statements: readonly string[];
  readonly convert?: (sequelize: Sequelize, transaction: Transaction, dataFolder: string) => Promise<void>;
}
