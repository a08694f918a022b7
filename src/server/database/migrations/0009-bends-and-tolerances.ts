import type { QueryInterface } from 'sequelize';

/**
 * Versions of the shipped definitions that say more of the reference pose (small bends, feet, tolerances) and nothing
 * else of roles: fits and matches of the version before are theirs as well.
 */
const RAISED = [
  { id: 'quay', from: 2, to: 3 },
  { id: 'quay-a45', from: 1, to: 2 },
];

export async function up(query: QueryInterface): Promise<void> {
  for (const { id, from, to } of RAISED) await carry(query, id, from, to);
}

export async function down(query: QueryInterface): Promise<void> {
  for (const { id, from, to } of RAISED) await carry(query, id, to, from);
}

async function carry(query: QueryInterface, id: string, from: number, to: number): Promise<void> {
  const replacements = { id, from, to };
  await query.sequelize.query(
    `UPDATE fit_changes SET state = JSON_SET(state, '$.definitionVersion', :to)
     WHERE JSON_VALUE(state, '$.definitionId') = :id AND JSON_VALUE(state, '$.definitionVersion') = :from`,
    { replacements },
  );
  // A match that is kept under both versions is the same match.
  await query.sequelize.query(
    'UPDATE IGNORE matches SET definition_version = :to WHERE definition_id = :id AND definition_version = :from',
    { replacements },
  );
}
