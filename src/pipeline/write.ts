import { createNodeIO } from '@/formats/gltf/node-io';
import { createHash } from 'node:crypto';
import { zipSync, strToU8 } from 'fflate';
import { z } from 'zod';
import { WaiverSchema } from '@/core/waivers/waiver';
import { FindingSchema, type Finding } from '@/core/checks/finding';
import { countBlockers } from '@/core/checks/run-checks';
import { judge } from './judge';
import type { FirstPass } from '@/core/match/first-pass';
import { YarvoError } from '@/core/errors/yarvo-error';
import { buildCrosswalk } from '@/core/plan/crosswalk';
import type { DrillResult } from '@/core/plan/drill-result';
import type { Geometry } from '@/core/geometry/geometry';
import { handoffLift, planHandoff, type HandoffPlan } from '@/core/plan/handoff-plan';
import { turnsByPath, type PostureFile } from '@/core/posture/posture-file';
import { measureSheet, raisedSheet } from '@/core/posture/posture-sheet';
import { REST_POSE } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import type { Definition } from '@/core/definition/definition';
import { roleBonesOf, type FitState } from '@/core/fit/fit';
import { slugOf } from '@/core/text/slug';
import type { EngineProfile } from '@/core/profile/profile';
import { ProvenanceSchema } from '@/core/rig/source-facts';
import { addedBy } from './added-bones';
import { readGlb } from './read-files';
import { readGeometry } from '@/document/read-geometry';
import { writeHandoff } from '@/document/write-handoff';
import { writePackMotions, type PackMotion } from './pack-motions';
import { readBack, ReadBackSchema } from './verify';

/** What a pack says about itself; documented in docs/formats.md. */
export const ManifestSchema = z.strictObject({
  schema: z.literal('yarvo-pack-1'),
  character: z.string(),
  version: z.int().positive(),
  createdAt: z.string(),
  signedOffBy: z.string(),
  source: z.strictObject({ file: z.string(), sha256: z.string(), bytes: z.int().nonnegative() }),
  /** Who made it and under which terms, as far as somebody said so. */
  provenance: ProvenanceSchema,
  definition: z.strictObject({ id: z.string(), version: z.int() }),
  engineProfile: z.strictObject({ id: z.string(), version: z.int() }),
  fitRevision: z.int().nonnegative(),
  files: z.array(z.strictObject({ path: z.string(), sha256: z.string(), bytes: z.int().nonnegative() })),
  /** Clips for the character's skeleton, a GLB each; packs made before there were any have none. */
  motions: z
    .array(
      z.strictObject({
        path: z.string(),
        motion: z.string(),
        frames: z.int().positive(),
        framesPerSecond: z.number().positive(),
      }),
    )
    .default([]),
  leftOut: z.array(z.string()),
  constantKeys: z.int().nonnegative(),
  findings: z.array(FindingSchema),
  /** Findings that somebody accepted, and on what word. */
  waived: z.array(z.strictObject({ finding: FindingSchema, waiver: WaiverSchema })).default([]),
  readBack: ReadBackSchema,
});
export type Manifest = z.infer<typeof ManifestSchema>;

export interface PackInput extends FirstPass {
  /** The canonical GLB under the fit's intake decisions. */
  readonly canonical: Uint8Array;
  /** The file as it was given. */
  readonly source: { readonly file: string; readonly sha256: string; readonly bytes: number };
  readonly character: string;
  readonly version: number;
  readonly fit: FitState;
  readonly fitRevision: number;
  readonly definition: Definition;
  readonly profile: EngineProfile;
  /** What goes along, in this order. */
  readonly motions: readonly PackMotion[];
  /** What the drill found on it. */
  readonly drill?: readonly DrillResult[];
  readonly signedOffBy: string;
  /** ISO 8601; the caller knows the clock. */
  readonly createdAt: string;
}

export interface Pack {
  readonly zip: Uint8Array;
  readonly fileName: string;
  readonly manifest: Manifest;
}

const sha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/**
 * Writes the character for the engine, reads the written file back, judges it, and packs it with crosswalk and manifest.
 * @throws {YarvoError} `blocked` while a blocker is open; `read-back-failed` when what was written does not hold.
 */
export async function buildPack(input: PackInput): Promise<Pack> {
  const { rig, document } = await readGlb(input.canonical, input.source.file);
  const plan = planHandoff({ ...input, rig });
  const { findings, waived } = judge(plan, input.createdAt.slice(0, 10));
  assertNoBlocker(findings, input.character);
  if ('problem' in plan.skeleton) throw new YarvoError(plan.skeleton.problem);
  const { names } = plan;
  const posture = postureFileOf(input, rig, plan, readGeometry(document, rig, input.character));
  const report = writeHandoff(document, rig, plan.skeleton.plan, names, addedBy(plan));
  const bytes = await createNodeIO().writeBinary(document);
  const back = await readBack({
    bytes,
    rig,
    ...input,
    names,
    added: plan.helpers.length,
    accepted: new Set(waived.map(({ finding }) => finding.check)),
  });
  if (back.failures.length > 0) {
    throw new YarvoError({
      code: 'read-back-failed',
      message: `The written file does not hold: ${back.failures[0]}`,
      place: input.character,
      remedy: 'Nothing was handed off. Correct what is named and try again.',
    });
  }
  const slug = slugOf(input.character);
  const crosswalk = buildCrosswalk({ ...input, rig, plan: names, helpers: plan.helpers, morphs: plan.morphs });
  const files: Record<string, Uint8Array> = {
    [`${slug}/${slug}.glb`]: bytes,
    [`${slug}/${slug}.crosswalk.json`]: strToU8(`${JSON.stringify(crosswalk, null, 2)}\n`),
    [`${slug}/${slug}.posture.json`]: strToU8(`${JSON.stringify(posture, null, 2)}\n`),
  };
  const motions = await writePackMotions(input.motions, plan, input.canonical, bytes);
  for (const motion of motions) files[`${slug}/${motion.path}`] = motion.bytes;
  const manifest: Manifest = {
    schema: 'yarvo-pack-1',
    character: input.character,
    version: input.version,
    createdAt: input.createdAt,
    signedOffBy: input.signedOffBy,
    source: input.source,
    provenance: input.fit.intake.provenance,
    definition: { id: input.definition.id, version: input.definition.version },
    engineProfile: { id: input.profile.id, version: input.profile.version },
    fitRevision: input.fitRevision,
    files: Object.entries(files).map(([path, content]) => ({ path, sha256: sha256(content), bytes: content.length })),
    leftOut: [...report.leftOut],
    constantKeys: report.constantKeys,
    findings: [...findings],
    waived: [...waived],
    motions: motions.map(({ path, motion, frames, framesPerSecond }) => ({
      path: `${slug}/${path}`,
      motion,
      frames,
      framesPerSecond,
    })),
    readBack: back,
  };
  files[`${slug}/manifest.json`] = strToU8(`${JSON.stringify(manifest, null, 2)}\n`);
  return {
    zip: zipSync(files, { level: 6, mtime: new Date(input.createdAt) }),
    fileName: `${slug}-v${String(input.version).padStart(3, '0')}.zip`,
    manifest,
  };
}

/** The posture that was written, as it can be taken again, with its sheet. */
function postureFileOf(
  { character, definition, fit, normalisation }: PackInput,
  rig: Rig,
  { pose }: HandoffPlan,
  geometry: Geometry,
): PostureFile {
  const subject = { rig, definition, normalisation, roleBones: roleBonesOf(fit), geometry };
  const sheet = measureSheet(subject, pose);
  const rest = measureSheet(subject, REST_POSE);
  const lift = handoffLift(normalisation, fit);
  return {
    schema: 'yarvo-posture-1',
    character,
    definition: { id: definition.id, version: definition.version },
    bones: turnsByPath(rig, pose),
    hipsLiftM: sheet.hipsCm === null || rest.hipsCm === null ? null : (sheet.hipsCm - rest.hipsCm) / 100,
    measured: raisedSheet(sheet, lift * 100),
  };
}

function assertNoBlocker(findings: readonly Finding[], place: string): void {
  if (countBlockers(findings) === 0) return;
  const blockers = findings.filter((finding) => finding.severity === 'blocker');
  throw new YarvoError({
    code: 'blocked',
    message: `Handoff is blocked by ${blockers.length === 1 ? 'a blocker' : `${blockers.length} blockers`}: ${blockers.map((finding) => finding.sentence).join(' ')}`,
    place,
    remedy: blockers[0].remedy,
  });
}
