import { roleOf, type Definition } from '../definition/definition';
import type { Match } from '../match/context/match-types';
import { CHEST_SHARE } from '../match/trunk/spine-run';
import type { Rig } from '../rig/rig';
import { computeRigShape, isAncestor, pathBelow, type RigShape } from '../rig/rig-shape';

export interface FillSubject {
  readonly rig: Rig;
  readonly match: Match;
  readonly definition: Definition;
}

/**
 * Roles of a line for bones that a person picked: one bone starts a run, two are its ends, more are taken in their order.
 * With fewer bones than roles the optional roles stay vacant first; where a run may be longer than its roles, the first
 * and the last bone keep the outer ones.
 * @returns role -> bone index, or a sentence that says why there is no such run.
 */
export function fillLine(
  lineId: string,
  picked: readonly number[],
  { rig, match, definition }: FillSubject,
): ReadonlyMap<string, number> | string {
  const line = definition.lines.find(({ id }) => id === lineId);
  if (!line) return `${definition.label} has no line "${lineId}".`;
  const missing = picked.find((bone) => bone >= rig.bones.length);
  if (missing !== undefined) return `There is no bone ${missing}; the rig has ${rig.bones.length}.`;
  const shape = computeRigShape(rig);
  const passed = new Set(
    match.spares
      .filter(({ kind }) => kind === 'twist' || kind === 'helper' || kind === 'control')
      .map(({ boneIndex }) => boneIndex),
  );
  const run = runOf(shape, picked, line.roles.length);
  if (!run)
    return `${rig.bones[picked[0]].name} and ${rig.bones[picked[1]].name} are not one above the other in the tree.`;
  const fits = run.length <= line.maxBones ? run : run.filter((bone) => !passed.has(bone) || picked.includes(bone));
  if (fits.length > line.maxBones)
    return `${line.label} takes at most ${line.maxBones} bones; these are ${fits.length}.`;
  const roles = rolesFor(definition, line.roles, fits.length);
  return new Map(roles.map((role, at) => [role, fits[placeOf(at, roles.length, fits.length)]]));
}

function runOf(shape: RigShape, picked: readonly number[], most: number): readonly number[] | null {
  if (picked.length > 2) return picked;
  if (picked.length === 1) return runFrom(shape, picked[0], most);
  const [a, b] = picked;
  const [top, end] = isAncestor(shape, b, a) ? [b, a] : [a, b];
  const below = pathBelow(shape, top, end);
  return below && below.length > 0 ? [top, ...below] : null;
}

/** Down from a bone along the longest way, as many bones as there are roles. */
function runFrom(shape: RigShape, start: number, most: number): number[] {
  const run = [start];
  while (run.length < most) {
    const [next] = [...shape.children[run[run.length - 1]]].sort(
      (a, b) => shape.reaches[b] + shape.lengths[b] - shape.reaches[a] - shape.lengths[a],
    );
    if (next === undefined) break;
    run.push(next);
  }
  return run;
}

/** As many roles as there are bones: optional ones are left out from the end. */
function rolesFor(definition: Definition, roles: readonly string[], count: number): string[] {
  const kept = [...roles];
  while (kept.length > count) {
    const optional = kept.filter((role) => !roleOf(definition, role).required);
    kept.splice(kept.indexOf(optional[optional.length - 1] ?? kept[kept.length - 1]), 1);
  }
  return kept;
}

function placeOf(at: number, roles: number, bones: number): number {
  if (bones === roles || at < roles - 2 || at === 0) return at;
  if (at === roles - 1) return bones - 1;
  const first = roles - 3;
  return first + Math.round(CHEST_SHARE * (bones - 1 - first));
}
