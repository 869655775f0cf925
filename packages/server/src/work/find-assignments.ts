import { Op } from 'sequelize';
import { AssignmentRow, EnrolmentRow, type PersonRow } from '../data/models.ts';

/** The assignments that a person works on: those of their courses and their own. */
export async function findAssignmentsOf(
  person: Pick<PersonRow, 'id'>,
  attributes?: readonly (keyof AssignmentRow & string)[],
): Promise<AssignmentRow[]> {
  const enrolments = await EnrolmentRow.findAll({ where: { personId: person.id, role: 'student' } });
  return AssignmentRow.findAll({
    where: {
      [Op.or]: [{ courseId: { [Op.in]: enrolments.map((row) => row.courseId) } }, { ownerId: person.id }],
      removedAt: null,
    },
    ...(attributes ? { attributes: [...attributes] } : {}),
  });
}

/** When the work is due for a person: groups of a course may have a due time of their own. */
export function findDueAt(
  assignment: Pick<AssignmentRow, 'dueAt' | 'dueByGroup'>,
  group: string | null,
): Date | null {
  const own = assignment.dueByGroup.find((each) => each.group === group)?.dueAt;
  return own === undefined ? assignment.dueAt : new Date(own);
}
