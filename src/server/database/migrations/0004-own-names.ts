import { QueryTypes, type QueryInterface } from 'sequelize';

/**
 * Version 2 of the definition Quay calls its bones otherwise in exports, and two kinds of spare have other names. Kept
 * states, actions and readings say so; nothing else in them changes.
 */
export const up = (query: QueryInterface): Promise<void> =>
  rewrite(query, { anchor: 'control', cloth: 'dangling' }, { from: 1, to: 2 });

export const down = (query: QueryInterface): Promise<void> =>
  rewrite(query, { control: 'anchor', dangling: 'cloth' }, { from: 2, to: 1 });

type Kinds = Readonly<Record<string, string>>;

interface KeptState {
  definitionId: string;
  definitionVersion: number;
  spareKinds?: Record<string, string>;
}

async function rewrite(query: QueryInterface, kinds: Kinds, version: { from: number; to: number }): Promise<void> {
  const select = <Row extends object>(sql: string) => query.sequelize.query<Row>(sql, { type: QueryTypes.SELECT });
  const renamed = (kind: string): string => kinds[kind] ?? kind;
  const changes = await select<{ fitId: string; revision: number }>(
    'SELECT fit_id AS fitId, revision FROM fit_changes',
  );
  for (const { fitId, revision } of changes) {
    const where = { fit_id: fitId, revision };
    const [{ state: stateText, action: actionText }] = await query.sequelize.query<{
      state: string;
      action: string | null;
    }>('SELECT state, action FROM fit_changes WHERE fit_id = :fitId AND revision = :revision', {
      replacements: { fitId, revision },
      type: QueryTypes.SELECT,
    });
    const state = JSON.parse(stateText) as KeptState;
    if (state.definitionId === 'quay' && state.definitionVersion === version.from) state.definitionVersion = version.to;
    if (state.spareKinds)
      state.spareKinds = Object.fromEntries(
        Object.entries(state.spareKinds).map(([bone, kind]) => [bone, renamed(kind)]),
      );
    const action = JSON.parse(actionText ?? 'null') as { kind: string; spareKind?: string | null } | null;
    if (action?.kind === 'set-spare-kind' && action.spareKind) action.spareKind = renamed(action.spareKind);
    await query.bulkUpdate(
      'fit_changes',
      { state: JSON.stringify(state), action: action && JSON.stringify(action) },
      where,
    );
  }
  const readings = await select<{ characterId: string; decisionsKey: string }>(
    'SELECT character_id AS characterId, decisions_key AS decisionsKey FROM interpretations',
  );
  for (const { characterId, decisionsKey } of readings) {
    const where = { character_id: characterId, decisions_key: decisionsKey };
    const [{ firstPass }] = await query.sequelize.query<{ firstPass: string }>(
      'SELECT first_pass AS firstPass FROM interpretations WHERE character_id = :characterId AND decisions_key = :decisionsKey',
      { replacements: { characterId, decisionsKey }, type: QueryTypes.SELECT },
    );
    const pass = JSON.parse(firstPass) as { match: { spares: { kind: string }[] } };
    for (const spare of pass.match.spares) spare.kind = renamed(spare.kind);
    await query.bulkUpdate('interpretations', { first_pass: JSON.stringify(pass) }, where);
  }
}
