import { z } from 'zod';
import { CARRYING_PRESETS, CarryingChangeSchema, type Carrying, type Grounding } from '../../motion/carry-options';
import { defineAction } from './action';
import { done, nothing, unknownBone } from './outcome';

/** How motions are carried to the character: joints that slide, ratios of the hips, twist bones, constant turns. */
export const setCarrying = defineAction({
  schema: z.strictObject({ kind: z.literal('set-carrying'), change: CarryingChangeSchema }),
  label: 'How motions are carried',
  apply: (state, { change }, { rig, definition }) => {
    const carrying: Carrying = { ...state.carrying, ...change };
    const roles = [
      ...Object.keys(carrying.roleShifts),
      ...[...carrying.offsets, ...carrying.correctives].map(({ role }) => role),
      ...carrying.layers.flatMap((layer) =>
        layer.kind === 'turn' ? [layer.role] : layer.kind === 'held' ? Object.keys(layer.turns) : [],
      ),
    ];
    const stranger = roles.find((role) => !definition.roles.some(({ id }) => id === role));
    if (stranger !== undefined) return nothing(`${definition.label} has no role "${stranger}".`);
    for (const bone of Object.keys(carrying.twistShares)) {
      const unknown = Number.isInteger(Number(bone))
        ? unknownBone(Number(bone), rig)
        : nothing(`"${bone}" is no bone.`);
      if (unknown) return unknown;
    }
    if (JSON.stringify(carrying) === JSON.stringify(state.carrying)) return nothing('Already set.');
    return done(state, { carrying });
  },
  describe: ({ change }, { role }) => describe(change, role),
});

const GROUNDING_TEXT: Readonly<Record<Grounding, string>> = {
  leave: 'feet left where rotations bring them',
  likeness: 'feet stand as in the source',
  plant: 'feet planted',
};

function describe(change: Partial<Carrying>, roleText: (id: string) => string): string {
  const preset = CARRYING_PRESETS.find(({ sets }) =>
    Object.entries(sets).every(
      ([key, value]) => JSON.stringify(change[key as keyof Carrying]) === JSON.stringify(value),
    ),
  );
  if (preset) return `motions carried as to: ${preset.label.toLowerCase()}`;
  if (change.offsets) {
    const on = change.offsets.filter(({ isOn }) => isOn);
    if (on.length === 0) return 'no constant turns in motions';
    return `constant turns in motions: ${on.map(({ role, degrees }) => `${roleText(role)} ${degrees} degrees`).join(', ')}`;
  }
  if (change.layers) {
    const on = change.layers.filter(({ isOn }) => isOn);
    return on.length === 0 ? 'no layers on motions' : `layers on motions: ${on.map(({ name }) => name).join(', ')}`;
  }
  if (change.correctives) {
    const on = change.correctives.filter(({ isOn }) => isOn);
    if (on.length === 0) return 'no morphs that follow joints';
    return `morphs that follow joints: ${[...new Set(on.map(({ morph }) => morph))].join(', ')}`;
  }
  if (change.grounding) return GROUNDING_TEXT[change.grounding];
  if (change.capsule !== undefined) return change.capsule ? 'size of the capsule set' : 'capsule as large as the body';
  if (change.contactPoints) return 'points that bear moved';
  if (change.hasTwist !== undefined) return change.hasTwist ? 'twist bones driven' : 'twist bones left still';
  if (change.twistShares) return 'shares of twist bones set';
  if (change.hipsVertical ?? change.hipsHorizontal) return 'ratio of the hips in motions set';
  return 'how joints slide in motions set';
}
