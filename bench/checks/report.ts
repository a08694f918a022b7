import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { modelsIn } from '@/cli/models';
import { QUAY } from '@/core/definition/quay';
import type { Finding } from '@/core/checks/finding';
import { runChecks } from '@/core/checks/run-checks';
import { initialFit } from '@/core/fit/fit';
import { planHandoff } from '@/core/plan/handoff-plan';
import { TIDEWATER } from '@/core/profile/shipped';
import { SAFE_REPAIRS } from '@/core/repairs/repair-kinds';
import { createNodeIO } from '@/formats/gltf/node-io';
import { checkReading, repairFile } from '@/pipeline/check';
import { runFirstPass } from '@/pipeline/match';
import { readSource } from '@/pipeline/read-files';
import { CAST } from '../../demo/cast/cast';
import { DEFECTS, type Patient } from '../../tests/helpers/plant-defects';
import { median } from '../median';
import { largeCharacter } from '../posture/large-character';

/**
 * `npx tsx bench/checks/report.ts [--write] [FILE...]`: plants every kind of defect in clean characters and counts what
 * is found and mended, counts what is found where nothing was planted, in the cast and in the files that are named, and
 * times all checks against reading. --write puts it into docs/checks-report.md.
 */
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { write: { type: 'boolean', default: false } },
});
const PATIENTS = ['lamplighter.glb', 'eel-seller.glb', 'net-mender.glb', 'otter-stevedore.glb'];
const YARDSTICKS = { definition: QUAY, profile: TIDEWATER };
const isAlarm = ({ severity }: Finding): boolean => severity !== 'note';

const sourceOf = (path: string, bytes: Uint8Array) => ({ main: { path, bytes }, files: [{ path, bytes }] });
const lines: string[] = [];
const say = (text: string): void => void lines.push(text);

/** A cast member with its safe repairs made, so that nothing is left but what is planted. */
async function cleaned(name: string): Promise<Uint8Array> {
  const source = sourceOf(name, await CAST[name].make());
  return (await repairFile(source, YARDSTICKS, new Set(SAFE_REPAIRS))).glb;
}

async function patientOf(bytes: Uint8Array) {
  const document = await createNodeIO().readBinary(bytes);
  const { plan } = checkReading(await readSource({ path: 'patient.glb', bytes }, []), YARDSTICKS);
  const nodes = document.getRoot().listNodes();
  const bone = (role: string) => {
    const at = plan.fit.assignments[role]?.boneIndex;
    const node = at === undefined ? undefined : nodes[plan.rig.bones[at].nodeIndex];
    if (!node) throw new Error(`no bone for ${role}`);
    return node;
  };
  const hand = document.getRoot().listSkins()[0].listJoints().indexOf(bone('leftHand'));
  const parts = nodes.flatMap((node) =>
    node.getSkin()
      ? (node.getMesh()?.listPrimitives() ?? []).map((primitive) => ({ primitive, part: node.getName() }))
      : [],
  );
  const body = parts.find(({ primitive }) => primitive.getAttribute('JOINTS_0')?.getArray()?.includes(hand));
  if (!body) throw new Error('no body');
  return { document, patient: { document, bone, ...body } satisfies Patient };
}

const tally = new Map<string, { planted: number; found: number; named: number; offered: number; mended: number }>();
const clean = new Map(await Promise.all(PATIENTS.map(async (name) => [name, await cleaned(name)] as const)));
for (const [kind, { finds, plant, repair, profile = TIDEWATER }] of Object.entries(DEFECTS)) {
  const counts = { planted: 0, found: 0, named: 0, offered: 0, mended: 0 };
  tally.set(kind, counts);
  for (const [name, bytes] of clean) {
    const { document, patient } = await patientOf(bytes);
    let subjects: readonly string[];
    try {
      subjects = await plant(patient);
    } catch {
      // The character has no such bone or mesh to plant it in.
      continue;
    }
    counts.planted++;
    const written = await createNodeIO().writeBinary(document);
    const yardsticks = { definition: QUAY, profile };
    const { findings, plan } = checkReading(await readSource({ path: name, bytes: written }, []), yardsticks);
    const own = findings.filter(({ key }) => key.startsWith(finds));
    if (own.length > 0) counts.found++;
    const said = own.flatMap(({ boneIndices, parts }) => [
      ...boneIndices.map((bone) => plan.rig.bones[bone].name),
      ...parts,
    ]);
    if (own.length > 0 && subjects.every((subject) => said.includes(subject))) counts.named++;
    if (!repair || own.length === 0) continue;
    counts.offered++;
    const mended = await repairFile(sourceOf(name, written), yardsticks, new Set([...SAFE_REPAIRS, repair])).catch(
      () => null,
    );
    if (mended && !mended.findings.some(({ key }) => key.startsWith(finds))) counts.mended++;
  }
}

say('# What the checks find\n');
say('Made by `npx tsx bench/checks/report.ts --write FILE...`; every number is counted, none is set.\n');
say(
  `Each kind is planted alone in ${PATIENTS.length} characters that were made clean first: ${PATIENTS.join(', ')}.\n`,
);
say('| planted | times | found | with its subjects | mended |');
say('| --- | --- | --- | --- | --- |');
const total = { planted: 0, found: 0, named: 0, offered: 0, mended: 0 };
for (const [kind, counts] of tally) {
  for (const key of Object.keys(total) as (keyof typeof total)[]) total[key] += counts[key];
  const mended = counts.offered > 0 ? `${counts.mended} of ${counts.offered}` : 'by a person';
  say(`| ${kind} | ${counts.planted} | ${counts.found} | ${counts.named} | ${mended} |`);
}
say(
  `| **all ${tally.size} kinds** | ${total.planted} | ${total.found} | ${total.named} | ${total.mended} of ${total.offered} |`,
);

say('\n## Where nothing was planted\n');
say('Blockers and cautions on characters as they are, by check; notes are left out.\n');
say('| set | files | read | findings |');
say('| --- | --- | --- | --- |');
const count = (found: readonly Finding[]): string => {
  const by = new Map<string, number>();
  for (const { check } of found) by.set(check, (by.get(check) ?? 0) + 1);
  return (
    [...by]
      .sort(([, a], [, b]) => b - a)
      .map(([check, times]) => `${check} ${times}`)
      .join(', ') || 'none'
  );
};
const cleanFindings: Finding[] = [];
for (const [name, bytes] of clean)
  cleanFindings.push(...checkReading(await readSource({ path: name, bytes }, []), YARDSTICKS).findings.filter(isAlarm));
say(`| the four of above, cleaned | ${clean.size} | ${clean.size} | ${count(cleanFindings)} |`);
if (positionals.length > 0) {
  const found: Finding[] = [];
  let [read, all] = [0, 0];
  for (const file of positionals)
    for await (const model of modelsIn(file)) {
      all++;
      try {
        found.push(...checkReading(await model.read(), YARDSTICKS).findings.filter(isAlarm));
        read++;
      } catch {
        // Files that are made to be refused are counted as not read.
      }
    }
  say(`| files by others, as they came | ${all} | ${read} | ${count(found)} |`);
}

const large = await largeCharacter(50_000, 150);
const readTimes: number[] = [];
const checkTimes: number[] = [];
for (let round = 0; round < 7; round++) {
  const before = performance.now();
  const { rig } = await readSource({ path: 'large.glb', bytes: large }, []);
  readTimes.push(performance.now() - before);
  const first = runFirstPass(rig, QUAY);
  // The plan is made to be checked: it counts as well.
  const start = performance.now();
  runChecks(planHandoff({ rig, ...first, fit: initialFit(first.match, QUAY), ...YARDSTICKS }));
  checkTimes.push(performance.now() - start);
}
const { rig } = await readSource({ path: 'large.glb', bytes: large }, []);
say('\n## How long\n');
say(
  `The plan and all checks on ${rig.bones.length} bones and ${rig.mesh.vertexCount} vertices take ${(median(checkTimes) / median(readTimes)).toFixed(3)} of the time of reading the file (aim: at most 0.2).`,
);
const text = `${lines.join('\n')}\n`;
process.stdout.write(text);
if (values.write) writeFileSync('docs/checks-report.md', text);
