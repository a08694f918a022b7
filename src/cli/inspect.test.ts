import { TIDEWATER } from '@/core/profile/shipped';
import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { InspectionSchema, UnreadableSchema } from '@/contract/inspection';
import { inspect as inspectFiles } from './inspect';

const ROOT = path.resolve(import.meta.dirname, '../..');
const demo = (name: string) => path.join(ROOT, 'demo/files', name);
let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-inspect-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** The command as a build pipeline calls it: a process of its own, which takes seconds to start. */
const inspectByShell = (...args: string[]): Promise<{ code: number; out: string }> =>
  new Promise((resolve) => {
    execFile(
      'npm',
      ['run', '-s', 'yarvo', '--', 'inspect', ...args],
      { cwd: ROOT, maxBuffer: 64 * 1024 * 1024 },
      (error, out) => resolve({ code: error ? Number(error.code) : 0, out }),
    );
  });
/** The same in this process. */
async function inspect(files: readonly string[], choice: { definition?: string; profile?: string } = {}) {
  let out = '';
  const code = await inspectFiles({ files, json: true, write: (text) => (out += text), ...choice });
  return { code, out };
}
const linesOf = (out: string): unknown[] =>
  out
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as unknown);

describe('yarvo inspect', () => {
  it('ends with 0 and a described line for a character without blockers', async () => {
    const { code, out } = await inspectByShell(demo('lamplighter.glb'), '--json');
    expect(code).toBe(0);
    const [line] = linesOf(out).map((value) => InspectionSchema.parse(value));
    expect(line).toMatchObject({
      kind: 'character',
      humanoid: { verdict: true },
      source: { format: 'glb', unit: 1, up: '+Y', facing: '+Z', bones: 53 },
      posture: { class: 'T' },
    });
    expect(line.assignments.leftHand).toMatchObject({ bone: 'LeftHand', state: 'proposed' });
    expect(line.lines.find((entry) => entry.line === 'trunk')).toEqual({
      line: 'trunk',
      bones: ['Hips', 'Spine', 'Chest', 'UpperChest'],
      anchors: { hips: 0, spine: 1, chest: 2, upperChest: 3 },
    });
  });

  it('checks for an engine profile from a file, and names what it does not know', async () => {
    const file = path.join(folder, 'ebb.json');
    await writeFile(file, JSON.stringify({ ...TIDEWATER, id: 'ebb', rootBone: 'optional' }));
    const checksOf = (out: string) => InspectionSchema.parse(linesOf(out)[0]).findings.map(({ check }) => check);
    expect(checksOf((await inspect([demo('net-mender.glb')])).out)).toContain('root-bone');
    expect(checksOf((await inspect([demo('net-mender.glb')], { profile: file })).out)).not.toContain('root-bone');
    await expect(inspect([demo('lamplighter.glb')], { definition: 'reef' })).rejects.toThrow(/reef/);
    await writeFile(file, '{"id": 3}');
    expect((await inspectByShell(demo('lamplighter.glb'), '--profile', file)).code).toBe(2);
  });

  it("names bones by the file's own node indices", async () => {
    const { out } = await inspect([demo('net-mender.glb')]);
    const line = InspectionSchema.parse(linesOf(out)[0]);
    const bytes = await readFile(demo('net-mender.glb'));
    const json = JSON.parse(bytes.subarray(20, 20 + bytes.readUInt32LE(12)).toString()) as {
      nodes: { name: string }[];
    };
    for (const { bone, boneIndex } of [...Object.values(line.assignments), ...line.spares])
      expect(json.nodes[boneIndex].name).toBe(bone);
  });

  it('ends with 1 where one has blockers, and goes on over many files in one call', async () => {
    const files = Array.from({ length: 2 }, () => [
      demo('lamplighter.glb'),
      demo('eel-seller.glb'),
      demo('net-mender.glb'),
    ]).flat();
    const { code, out } = await inspect(files);
    expect(code).toBe(1);
    expect(linesOf(out)).toHaveLength(6);
  });

  it('ends with 2 where one was unreadable, says why on its line, and still does the others', async () => {
    const broken = path.join(folder, 'broken.glb');
    await writeFile(broken, (await readFile(demo('lamplighter.glb'))).subarray(0, 4000));
    const { code, out } = await inspect([broken, path.join(folder, 'missing.glb'), demo('lamplighter.glb')]);
    expect(code).toBe(2);
    const [first, second, third] = linesOf(out);
    expect(UnreadableSchema.parse(first)).toMatchObject({ file: broken, error: { code: 'truncated' } });
    expect(UnreadableSchema.parse(second).error.code).toBe('cannot-open');
    expect(InspectionSchema.parse(third).humanoid.verdict).toBe(true);
  });

  it('takes every format, and a zip of several as a line each', async () => {
    const pack = path.join(folder, 'pack.zip');
    await writeFile(
      pack,
      zipSync({
        'a/walk.bvh': await readFile(demo('quay-walk.bvh')),
        'b/clerk.vrm': await readFile(demo('customs-clerk.vrm')),
        'b/hurt.glb': new Uint8Array(9),
      }),
    );
    const { code, out } = await inspect([
      demo('ferry-pilot.fbx'),
      demo('bell-ringer.dae'),
      demo('customs-clerk.vrm'),
      demo('quay-walk.bvh'),
      demo('tide-golem.glb'),
      pack,
    ]);
    expect(code).toBe(2);
    const lines = linesOf(out) as {
      file: string;
      source?: { format: string };
      kind?: string;
      humanoid?: { verdict: boolean };
      error?: { code: string };
    }[];
    expect(
      lines.map(({ file, source, kind, error }) => [
        path.relative(folder, file).replace(/^.*files\//, ''),
        source?.format ?? error?.code,
        kind,
      ]),
    ).toEqual([
      ['ferry-pilot.fbx', 'fbx', 'character'],
      ['bell-ringer.dae', 'collada', 'character'],
      ['customs-clerk.vrm', 'vrm', 'character'],
      ['quay-walk.bvh', 'bvh', 'motion'],
      ['tide-golem.glb', 'glb', 'mesh'],
      ['pack.zip/a/walk.bvh', 'bvh', 'motion'],
      ['pack.zip/b/clerk.vrm', 'vrm', 'character'],
      ['pack.zip/b/hurt.glb', 'not-a-model', undefined],
    ]);
    expect(lines[4].humanoid?.verdict).toBe(false);
  });

  it('explains itself when called without files', async () => {
    expect((await inspectByShell()).code).toBe(2);
  });
});
