import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { DOMParser } from '@xmldom/xmldom';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { CheckLineSchema, type CheckLine } from '@/contract/check-line';
import { TIDEWATER } from '@/core/profile/shipped';
import { check, type CheckCommand } from './check';

const demo = (name: string) => path.resolve(import.meta.dirname, '../../demo/files', name);
let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-check-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

async function run(
  files: readonly string[],
  change: Partial<CheckCommand> = {},
): Promise<{ code: number; out: string }> {
  let out = '';
  const code = await check({
    files,
    format: 'json',
    failOn: 'blocker',
    day: '2026-11-28',
    write: (text) => (out += text),
    ...change,
  });
  return { code, out };
}
const linesOf = (out: string): CheckLine[] =>
  out
    .trim()
    .split('\n')
    .map((line) => CheckLineSchema.parse(JSON.parse(line)));

/** Source: OASIS SARIF 2.1.0, what 3.13 to 3.28 require of the properties that are written. */
const Text = z.strictObject({ text: z.string().min(1) });
const Place = z.strictObject({
  physicalLocation: z.strictObject({
    artifactLocation: z.strictObject({ uri: z.string().regex(/^[^\s"<>\\^`{|}]*$/) }),
  }),
  logicalLocations: z.array(z.strictObject({ name: z.string().min(1) })).optional(),
});
const SarifSchema = z.strictObject({
  $schema: z.url(),
  version: z.literal('2.1.0'),
  runs: z
    .array(
      z.strictObject({
        tool: z.strictObject({
          driver: z.strictObject({ name: z.string(), rules: z.array(z.strictObject({ id: z.string() })) }),
        }),
        invocations: z.array(
          z.strictObject({
            executionSuccessful: z.boolean(),
            toolExecutionNotifications: z.array(
              z.strictObject({
                level: z.enum(['error', 'warning', 'note', 'none']),
                message: Text,
                locations: z.array(Place),
              }),
            ),
          }),
        ),
        results: z.array(
          z.strictObject({
            ruleId: z.string(),
            ruleIndex: z.int().nonnegative(),
            level: z.enum(['error', 'warning', 'note', 'none']),
            message: Text,
            locations: z.array(Place),
            partialFingerprints: z.record(z.string(), z.string()),
          }),
        ),
      }),
    )
    .min(1),
});

describe('yarvo check', () => {
  it('prints a line for each file, in the stated form, and ends by what is open', async () => {
    const { code, out } = await run([demo('lamplighter.glb'), demo('eel-seller.glb')]);
    expect(code).toBe(1);
    const [clean, posed] = linesOf(out);
    expect(clean.findings.every(({ severity }) => severity === 'note')).toBe(true);
    expect(posed).toMatchObject({ file: demo('eel-seller.glb'), profile: 'tidewater' });
    const pose = posed.findings.find(({ check: name }) => name === 'reference-pose');
    expect(pose).toMatchObject({
      severity: 'blocker',
      unit: 'degrees',
      allowed: 5,
      repair: 'align-posture',
      parts: [],
    });
    expect(pose?.measured).toBeGreaterThan(30);
    expect(pose?.bones).toContain('bf_fore.l');
    expect((await run([demo('lamplighter.glb')])).code).toBe(0);
    expect((await run([demo('net-mender.glb')], { failOn: 'caution' })).code).toBe(1);
  });

  it('speaks of the unit that the profile counts in', async () => {
    const { out } = await run([demo('lamplighter.glb')], { profile: 'ebb' });
    const unit = linesOf(out)[0].findings.find(({ key }) => key === 'unit-and-axes/unit');
    expect(unit?.sentence).toBe('The file counts in metres; the engine reads centimetres.');
    expect(out).not.toMatch(/engine reads metres/);
  });

  it('says of a file that cannot be read what is wrong, and goes on', async () => {
    const broken = path.join(folder, 'broken.glb');
    await writeFile(broken, 'no model at all');
    const { code, out } = await run([broken, demo('lamplighter.glb')]);
    expect(code).toBe(2);
    const [first, second] = linesOf(out);
    expect(first.findings).toEqual([]);
    expect(first.error?.remedy).toBeTruthy();
    expect(second.error).toBeUndefined();
  });

  it('leaves out what is waived, by whom and why, while the waiver holds', async () => {
    const file = path.join(folder, 'waivers.json');
    const given = {
      character: 'eel-seller',
      check: 'reference-pose',
      reason: 'posed in the engine',
      author: 'Odo',
      date: '2026-11-01',
    };
    const write = (until: string) =>
      writeFile(file, JSON.stringify({ schema: 'yarvo-waivers-1', waivers: [{ ...given, until }] }));
    await write('2026-12-31');
    const { code, out } = await run([demo('eel-seller.glb')], { waivers: file });
    expect(code).toBe(0);
    expect(linesOf(out)[0].waived).toMatchObject([
      { reason: 'posed in the engine', author: 'Odo', until: '2026-12-31' },
    ]);
    await write('2026-11-27');
    expect((await run([demo('eel-seller.glb')], { waivers: file })).code).toBe(1);
    await writeFile(file, JSON.stringify({ schema: 'yarvo-waivers-1', waivers: [{ reason: 'x', by: 'Odo' }] }));
    await expect(run([demo('eel-seller.glb')], { waivers: file })).rejects.toThrow(/reason.*by/s);
  });

  it('refuses a profile that contradicts itself by every fault', async () => {
    const file = path.join(folder, 'profile.json');
    await writeFile(file, JSON.stringify({ ...TIDEWATER, rootBone: 'forbidden', facing: '+Y', depth: 3 }));
    await expect(run([demo('lamplighter.glb')], { profile: file })).rejects.toThrow(/depth/);
    await writeFile(file, JSON.stringify({ ...TIDEWATER, rootBone: 'forbidden', facing: '+Y' }));
    await expect(run([demo('lamplighter.glb')], { profile: file })).rejects.toThrow(/facing.*helpers/s);
  });

  it('writes repaired characters that a second run finds nothing to repair in', async () => {
    const { code, out } = await run([demo('ferry-pilot.fbx')], { out: folder });
    expect(code).toBe(0);
    const [{ repaired }] = linesOf(out);
    expect(repaired?.repairs).toEqual(['fold-copies', 'align-posture']);
    const written = repaired?.written ?? '';
    expect((await readFile(written)).length).toBeGreaterThan(10_000);
    const [again] = linesOf((await run([written])).out);
    expect(again.findings.filter(({ severity, repair }) => severity !== 'note' || repair)).toEqual([]);
  });
});

describe('its reports', () => {
  const files = () => [demo('net-mender.glb'), demo('harbour-diver.glb'), path.join(folder, 'not there & gone.glb')];

  it('as JUnit: a suite for each file, whose counts are those of its cases', async () => {
    const { code, out } = await run(files(), { format: 'junit' });
    expect(code).toBe(2);
    const root = new DOMParser({ onError: (level, message) => expect.fail(`${level}: ${message}`) }).parseFromString(
      out,
      'text/xml',
    ).documentElement;
    expect(root?.tagName).toBe('testsuites');
    const suites = [...(root?.getElementsByTagName('testsuite') ?? [])];
    expect(suites).toHaveLength(3);
    for (const suite of suites) {
      const count = (tag: string) => suite.getElementsByTagName(tag).length;
      expect(Number(suite.getAttribute('tests'))).toBe(count('testcase'));
      expect(Number(suite.getAttribute('failures'))).toBe(count('failure'));
      expect(Number(suite.getAttribute('errors'))).toBe(count('error'));
      for (const each of suite.getElementsByTagName('testcase'))
        expect(each.getAttribute('name') && each.getAttribute('classname')).toBeTruthy();
    }
  });

  it('as SARIF 2.1.0: a result for each finding, under a rule that is listed', async () => {
    const { out } = await run(files(), { format: 'sarif' });
    const log = SarifSchema.parse(JSON.parse(out));
    const [{ results, tool, invocations }] = log.runs;
    const lines = linesOf((await run(files())).out);
    expect(results).toHaveLength(lines.reduce((sum, { findings }) => sum + findings.length, 0));
    for (const { ruleId, ruleIndex } of results) expect(tool.driver.rules[ruleIndex].id).toBe(ruleId);
    expect(invocations[0].executionSuccessful).toBe(false);
  });
});
