import type { CharacterView, FitView } from '@/contract/character-view';
import { mirrorRole, sideOfRole, type Definition } from '@/core/definition/definition';
import { lineFitsOf } from '@/core/match/verdict/line-fits';
import { roleBonesOf, sparesOf } from '@/core/fit/fit';
import { clashingRoles } from '@/core/fit/review';
import { computeRigShape } from '@/core/rig/rig-shape';
import type { LedgerRow } from '@/ui/BoneLedger';
import type { MapRole } from '@/ui/line-map/LineMap';
import type { LineFit } from '@/core/match/context/match-types';

/** Line fits of the fit as it stands now, from the same rule that the first pass uses. */
export function linesOf(character: CharacterView, fit: FitView, definition: Definition): LineFit[] {
  return lineFitsOf(computeRigShape(character.rig), definition, roleBonesOf(fit.state));
}

export function mapRoles(character: CharacterView, fit: FitView): Map<string, MapRole> {
  const clashes = clashingRoles(fit.findings);
  return new Map(
    Object.entries(fit.state.assignments).map(([role, assignment]) => [
      role,
      {
        state: clashes.has(role) ? 'clash' : assignment.state,
        bone: {
          index: assignment.boneIndex,
          name: character.rig.bones[assignment.boneIndex].name,
          prefixLength: character.match.prefixLengths[assignment.boneIndex],
        },
        confidence: confidenceOf(character, role, assignment.boneIndex),
      } satisfies MapRole,
    ]),
  );
}

/** Roles whose other side is not like them: one vacant, or two bones that are no mirror images of each other. */
export function symmetryBreaks(character: CharacterView, fit: FitView, definition: Definition): ReadonlySet<string> {
  const { assignments } = fit.state;
  const breaks = new Set<string>();
  for (const { id } of definition.roles) {
    const other = mirrorRole(definition, id);
    const [own, its] = [assignments[id]?.boneIndex, assignments[other]?.boneIndex];
    if (other === id || (own === undefined && its === undefined)) continue;
    const partner = own === undefined ? -1 : (character.match.partners[own] ?? -1);
    if (own === undefined || its === undefined || (partner >= 0 && partner !== its)) breaks.add(id);
  }
  return breaks;
}

/** Pairs of roles that stand against the order of the tree: the lower one, and the one that should lead it. */
export const orderProblems = (fit: FitView): readonly (readonly [role: string, above: string])[] =>
  fit.findings
    .filter((finding) => finding.check === 'tree-order' && finding.roles.length > 1)
    .map((finding) => [finding.roles[0], finding.roles[1]]);

/** Confidence of the first pass, where the bone is still the one it proposed. */
function confidenceOf(character: CharacterView, role: string, boneIndex: number): number | null {
  const match = character.match.assignments[role];
  return match?.boneIndex === boneIndex ? match.confidence : null;
}

/** Every bone in tree order (children under their parent), with what it is. */
export function ledgerRows(
  character: CharacterView,
  fit: FitView,
  definition: Definition,
  lines: readonly LineFit[],
): LedgerRow[] {
  const { rig, match } = character;
  const roles = new Map(
    Object.entries(fit.state.assignments).map(([role, assignment]) => [assignment.boneIndex, { role, ...assignment }]),
  );
  const spares = new Map(sparesOf(match, fit.state).map((spare) => [spare.boneIndex, spare]));
  const members = new Set(lines.flatMap((line) => line.bones));
  const children = new Map<number, number[]>();
  for (const { parent, index } of rig.bones) {
    const siblings = children.get(parent);
    if (siblings) siblings.push(index);
    else children.set(parent, [index]);
  }
  const rows: LedgerRow[] = [];
  const visit = (bone: number, depth: number) => {
    const { name, skinWeight } = rig.bones[bone];
    const role = roles.get(bone);
    const spare = spares.get(bone);
    const base = { index: bone, name, prefixLength: match.prefixLengths[bone], depth, skinWeight };
    if (role) {
      const label = definition.roles.find((candidate) => candidate.id === role.role)?.label ?? role.role;
      rows.push({
        ...base,
        caption: label.replace(/^Left /, 'L ').replace(/^Right /, 'R '),
        kind: 'role',
        confidence: role.state === 'settled' ? 1 : confidenceOf(character, role.role, bone),
        isDoubtful: role.state === 'doubtful',
        reason: `${name}: ${label}, ${role.state}`,
      });
    } else if (members.has(bone))
      rows.push({
        ...base,
        caption: 'in the run',
        kind: 'member',
        confidence: null,
        isDoubtful: false,
        reason: `${name}: a further bone of its line`,
      });
    else if (bone === match.rootBone)
      rows.push({
        ...base,
        caption: 'root',
        kind: 'root',
        confidence: null,
        isDoubtful: false,
        reason: `${name}: leads the skeleton`,
      });
    else
      rows.push({
        ...base,
        caption: spare?.kind ?? 'unknown',
        kind: 'spare',
        confidence: null,
        isDoubtful: false,
        reason: `${name}: ${spare?.reason ?? 'it has lost its role'}`,
      });
    for (const child of children.get(bone) ?? []) visit(child, depth + 1);
  };
  for (const root of children.get(-1) ?? []) visit(root, 0);
  return rows;
}

/** Which tint each mapped bone takes on the stage. */
export function sidesOf(
  fit: FitView,
  lines: readonly LineFit[],
  definition: Definition,
): Map<number, 'left' | 'right' | 'centre'> {
  const sides = new Map<number, 'left' | 'right' | 'centre'>();
  for (const line of lines) {
    const side = definition.lines.find(({ id }) => id === line.lineId)?.side ?? 'centre';
    for (const bone of line.bones) sides.set(bone, side);
  }
  for (const [role, { boneIndex }] of Object.entries(fit.state.assignments))
    sides.set(boneIndex, sideOfRole(definition, role) ?? 'centre');
  return sides;
}
