import type { TakeOrigin } from '@apodix/core';
import type { Sequelize } from 'sequelize';
import { TakeRow, TakeUseRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';

export interface NewTake {
  readonly id: string;
  readonly personId: string;
  readonly name: string;
  readonly origin: TakeOrigin;
  readonly sha256: string;
  readonly sizeBytes: number;
  /** What it serves from the start; null for nothing yet. */
  readonly assignmentId: string | null;
}

/** Writes down a take whose bytes are there; what it is is measured after. */
export async function createTake(sequelize: Sequelize, take: NewTake): Promise<void> {
  const { id, personId, assignmentId, ...rest } = take;
  const createdAt = new Date();
  await transact(sequelize, async (transaction) => {
    await TakeRow.create(
      {
        id,
        personId,
        ...rest,
        state: 'inspecting',
        kind: null,
        isShaped: false,
        facts: null,
        proposal: null,
        fault: null,
        proxySha256: null,
        stripSha256: null,
        posterSha256: null,
        createdAt,
      },
      { transaction },
    );
    if (assignmentId !== null)
      await TakeUseRow.create(
        { takeId: id, assignmentId, personId, isChosen: false, createdAt },
        { transaction },
      );
  });
}
