import { validateBytes } from 'gltf-validator';
import { z } from 'zod';
import { assessFit } from './judge';
import { runFirstPass } from './match';
import type { FirstPass } from '@/core/match/first-pass';
import { FindingSchema, listNames } from '@/core/checks/finding';
import { roleOf, type Definition } from '@/core/definition/definition';
import { FILE_REST } from '@/core/posture/posture';
import { NO_DECISIONS } from '@/core/intake/decisions';
import type { FitState } from '@/core/fit/fit';
import type { NamePlan } from '@/core/plan/plan-names';
import type { EngineProfile } from '@/core/profile/profile';
import type { Rig } from '@/core/rig/rig';
import { readGlb } from './read-files';

/** What was found on reading the written file again. */
export const ReadBackSchema = z.strictObject({
  validator: z.strictObject({
    errors: z.int().nonnegative(),
    warnings: z.int().nonnegative(),
    messages: z.array(z.string()),
  }),
  rolesWritten: z.int().nonnegative(),
  /** Roles that a fresh match on the written file gives to the same bones; with its names, and with them erased. */
  rolesMatchedByName: z.int().nonnegative(),
  rolesMatchedWithoutNames: z.int().nonnegative(),
  posture: z.string(),
  heightMetres: z.number(),
  findings: z.array(FindingSchema),
  /** What a person should know of it and may accept. */
  remarks: z.array(z.string()).default([]),
  /** Reasons not to offer the file; empty when it holds. */
  failures: z.array(z.string()),
});
export type ReadBack = z.infer<typeof ReadBackSchema>;

export interface ReadBackInput extends FirstPass {
  readonly bytes: Uint8Array;
  /** The rig that was written from. */
  readonly rig: Rig;
  readonly fit: FitState;
  readonly definition: Definition;
  readonly profile: EngineProfile;
  readonly names: NamePlan;
  /** Bones that handoff added beside the root. */
  readonly added?: number;
  /** Checks of which somebody accepted a finding: what is left of them in the file is no news. */
  readonly accepted?: ReadonlySet<string>;
}

/** Validates, reads, matches and checks a written file as if it had come from somebody else. */
export async function readBack(input: ReadBackInput): Promise<ReadBack> {
  const { bytes, definition, profile, fit, names } = input;
  const failures: string[] = [];
  const report = await validateBytes(bytes, { maxIssues: 50 });
  const messages = report.issues.messages
    .filter((issue) => issue.severity === 0)
    .map((issue) => `${issue.code} at ${issue.pointer ?? 'file'}: ${issue.message}`);
  if (report.issues.numErrors > 0) failures.push(`${report.issues.numErrors} format errors: ${messages[0]}.`);

  const { rig } = await readGlb(bytes, 'written file');
  const byName = new Map(rig.bones.map((bone) => [bone.name, bone.index]));
  const writtenFit: FitState = {
    ...fit,
    assignments: {},
    posture: FILE_REST,
    hasSmallBend: false,
    intake: { ...NO_DECISIONS, provenance: fit.intake.provenance },
    handoff: { ...fit.handoff, reorients: false },
  };
  for (const [role, assignment] of Object.entries(fit.assignments)) {
    const bone = byName.get(names.names[assignment.boneIndex]);
    if (bone === undefined)
      failures.push(`the bone of ${role}, ${names.names[assignment.boneIndex]}, is not in the file.`);
    else writtenFit.assignments[role] = { ...assignment, boneIndex: bone };
  }
  if (
    rig.bones.length !==
    input.rig.bones.length +
      (input.added ?? 0) +
      (names.addsRoot && rig.bones.some((bone) => bone.name === names.rootName) ? 1 : 0)
  ) {
    failures.push(`${rig.bones.length} bones were written from ${input.rig.bones.length}.`);
  }
  const named = runFirstPass(rig, definition, {}, AS_WRITTEN);
  const erased = runFirstPass(
    { ...rig, bones: rig.bones.map((bone) => ({ ...bone, name: `bone ${bone.index}`, isNamed: false })) },
    definition,
    {},
    AS_WRITTEN,
  );
  const { findings, summary } = assessFit({ rig, fit: writtenFit, definition, profile, ...named });
  for (const { severity, check, sentence } of findings)
    if (severity === 'blocker' && !input.accepted?.has(check)) failures.push(sentence);
  const agrees = (first: FirstPass) =>
    Object.entries(writtenFit.assignments).filter(
      ([role, { boneIndex }]) => first.match.assignments[role]?.boneIndex === boneIndex,
    ).length;
  return {
    validator: { errors: report.issues.numErrors, warnings: report.issues.numWarnings, messages },
    rolesWritten: Object.keys(writtenFit.assignments).length,
    rolesMatchedByName: agrees(named),
    rolesMatchedWithoutNames: agrees(erased),
    posture: summary.sentence,
    heightMetres: Math.round(named.normalisation.heightMetres * 1000) / 1000,
    findings: [...findings],
    remarks: matchRemarks(definition, writtenFit, named),
    failures,
  };
}

/** A written GLB is in metres, Y up, facing +Z: that is known and not guessed again. */
const AS_WRITTEN = { unitMetres: 1, up: '+Y', facing: '+Z' } as const;

/** Other programs find bones by their names: those that a fresh match does not find are said. */
function matchRemarks(definition: Definition, { assignments }: FitState, { match }: FirstPass): string[] {
  const missed = Object.keys(assignments).filter(
    (role) => match.assignments[role]?.boneIndex !== assignments[role].boneIndex,
  );
  if (missed.length === 0) return [];
  const named = listNames(missed.map((role) => roleOf(definition, role).label));
  return [
    `A fresh match of the written file gives ${missed.length} of ${Object.keys(assignments).length} roles other bones or none: ${named}. Check them on Match before another program relies on their names.`,
  ];
}
