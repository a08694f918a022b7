import type { Document } from '@gltf-transform/core';
import { beforeAll, describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import type { Finding } from '@/core/checks/finding';
import { TIDEWATER } from '@/core/profile/shipped';
import { SAFE_REPAIRS } from '@/core/repairs/repair-kinds';
import { createNodeIO } from '@/formats/gltf/node-io';
import { checkReading, repairFile } from '@/pipeline/check';
import { readSource } from '@/pipeline/read-files';
import { readCast } from '../helpers/cast-files';
import { DEFECTS, type Defect, type Patient } from '../helpers/plant-defects';

const FILE = 'lamplighter.glb';
let clean: Uint8Array;
let roles: Map<string, string>;
let part: string;

const sourceOf = (bytes: Uint8Array) => {
  const main = { path: FILE, bytes };
  return { main, files: [main] };
};
const check = async (bytes: Uint8Array, profile = TIDEWATER) =>
  checkReading(await readSource(sourceOf(bytes).main, sourceOf(bytes).files), { definition: QUAY, profile });

async function patientOf(bytes: Uint8Array): Promise<{ document: Document; patient: Patient }> {
  const document = await createNodeIO().readBinary(bytes);
  const nodes = document.getRoot().listNodes();
  const bone = (role: string) => {
    const found = nodes.find((node) => node.getName() === roles.get(role));
    if (!found) throw new Error(`no bone for ${role}`);
    return found;
  };
  const skinned = nodes.find((node) => node.getSkin() && node.getName() === part);
  const primitives = skinned?.getMesh()?.listPrimitives() ?? [];
  const most = (each: (typeof primitives)[number]) => each.getAttribute('POSITION')?.getCount() ?? 0;
  const [primitive] = [...primitives].sort((a, b) => most(b) - most(a));
  return { document, patient: { document, bone, primitive, part } };
}

beforeAll(async () => {
  clean = (await readCast(FILE)).glb;
  const { plan } = await check(clean);
  const { rig } = plan;
  roles = new Map(
    Object.entries(plan.fit.assignments).map(([role, { boneIndex }]) => [role, rig.bones[boneIndex].name]),
  );
  [{ name: part }] = [...(rig.facts?.parts ?? [])].sort((a, b) => b.bones - a.bones);
});

const named = ({ boneIndices, parts }: Finding, names: readonly string[]): string[] => [
  ...boneIndices.map((bone) => names[bone]),
  ...parts,
];

describe('a defect that is planted alone', () => {
  it.each(Object.entries(DEFECTS))('%s is found, named, and mended where it can be', async (_kind, defect) => {
    const { document, patient } = await patientOf(clean);
    const profile = defect.profile ?? TIDEWATER;
    const subjects = await defect.plant(patient);
    const bytes = await createNodeIO().writeBinary(document);
    const { findings, plan } = await check(bytes, profile);
    const names = plan.rig.bones.map(({ name }) => name);
    const own = findings.filter(({ key }) => key.startsWith(defect.finds));
    expect(findings.map(({ key }) => key)).toContainEqual(expect.stringMatching(new RegExp(`^${defect.finds}`)));
    const said = own.flatMap((finding) => named(finding, names));
    for (const subject of subjects) expect(said).toContain(subject);
    expect(own.map(({ repair }) => repair)).toContain(defect.repair);
    if (!defect.repair) return;
    const yardsticks = { definition: QUAY, profile };
    const mended = await repairFile(sourceOf(bytes), yardsticks, new Set([...SAFE_REPAIRS, defect.repair]));
    expect(mended.findings.filter(({ key }) => key.startsWith(defect.finds))).toEqual([]);
    expect(mended.repairs).toContain(defect.repair);
    // Made again on what it made, nothing is left to make.
    const again = await repairFile(sourceOf(mended.glb), yardsticks, new Set([defect.repair]));
    expect(again.repairs).toEqual([]);
  });

  it('is none in the clean character, which no repair changes', async () => {
    const { findings } = await check(clean);
    expect(findings.filter(({ severity }) => severity !== 'note')).toEqual([]);
    const { repairs } = await repairFile(
      sourceOf(clean),
      { definition: QUAY, profile: TIDEWATER },
      new Set(SAFE_REPAIRS),
    );
    expect(repairs).toEqual([]);
  });
});

describe('defects that are planted together', () => {
  // Under an uneven scale no segment is turned, so a posture that is off stays so until a person sees to it.
  const together = Object.entries(DEFECTS).filter(
    ([, { profile, repair, finds }]) =>
      !profile && repair && !finds.startsWith('bone-scale') && finds !== 'binds/missing',
  );
  it.each([0, 1, 2, 3])('are all found, and mended to a plan without them (mixture %i)', async (seed) => {
    const chosen = together.filter((_, at) => (at * 7 + seed * 3) % 4 < 2);
    const { document, patient } = await patientOf(clean);
    // A clip at rest is one at the rest that is planted, and a joint that is added takes the place of a matrix too many.
    const turn = ({ finds }: Defect): number =>
      finds.startsWith('reference') ? 0 : finds.endsWith('unreferenced') ? 2 : 1;
    const posed = [...chosen].sort(([, a], [, b]) => turn(a) - turn(b));
    for (const [, { plant }] of posed) await plant(patient);
    const bytes = await createNodeIO().writeBinary(document);
    const { findings } = await check(bytes);
    const missed = chosen.filter(([, { finds }]) => !findings.some(({ key }) => key.startsWith(finds)));
    expect(missed.map(([kind]) => kind)).toEqual([]);
    const kinds = new Set(SAFE_REPAIRS);
    const mended = await repairFile(sourceOf(bytes), { definition: QUAY, profile: TIDEWATER }, kinds);
    const left = chosen.filter(([, { finds }]) => mended.findings.some(({ key }) => key.startsWith(finds)));
    expect(left.map(([kind]) => kind)).toEqual([]);
  });
});
