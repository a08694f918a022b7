import { mkdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import type { CheckedFinding, CheckLine } from '@/contract/check-line';
import { SEVERITIES, type Finding, type Severity } from '@/core/checks/finding';
import { problemOf, YarvoError } from '@/core/errors/yarvo-error';
import type { HandoffPlan } from '@/core/plan/handoff-plan';
import { SAFE_REPAIRS } from '@/core/repairs/repair-kinds';
import { faultsOf, jsonOf } from '@/core/schema/read-json';
import { sortWaived, WaiverFileSchema, type Waiver } from '@/core/waivers/waiver';
import { slugOf } from '@/core/text/slug';
import { checkReading, repairFile } from '@/pipeline/check';
import { modelsIn, type Model } from './models';
import { junitOf } from './reports/junit';
import { sarifOf } from './reports/sarif';
import { textOf } from './reports/text';
import { writeWhole } from './write-whole';
import { loadYardsticks, type Yardsticks } from './yardsticks';

export const CHECK_FORMATS = ['json', 'junit', 'sarif', 'text'] as const;
export type CheckFormat = (typeof CHECK_FORMATS)[number];

export interface CheckCommand {
  readonly files: readonly string[];
  readonly profile?: string;
  readonly definition?: string;
  /** A file of waivers. */
  readonly waivers?: string;
  readonly format: CheckFormat;
  /** The severity from which on a finding fails the run. */
  readonly failOn: Exclude<Severity, 'note'>;
  /** Folder for repaired files; safe repairs are made where it is given. */
  readonly out?: string;
  /** The day on which waivers are held against their last one, YYYY-MM-DD. */
  readonly day: string;
  readonly write: (text: string) => void;
}

/**
 * Checks what would be handed off of each file for an engine. @returns the exit code: 2 where a file could not be read,
 * else 1 where a finding of the stated severity is open, else 0.
 */
export async function check(command: CheckCommand): Promise<0 | 1 | 2> {
  const yardsticks = await loadYardsticks(command.definition, command.profile);
  const waivers = await loadWaivers(command.waivers);
  const lines: CheckLine[] = [];
  for (const file of command.files) {
    for await (const model of modelsIn(file)) {
      const line = await checkModel(model, yardsticks, waivers, command);
      lines.push(line);
      if (command.format === 'json') command.write(`${JSON.stringify(line)}\n`);
      if (command.format === 'text') command.write(textOf(line));
    }
  }
  if (command.format === 'junit') command.write(junitOf(lines));
  if (command.format === 'sarif') command.write(sarifOf(lines));
  if (lines.some(({ error }) => error)) return 2;
  const failing = SEVERITIES.slice(0, SEVERITIES.indexOf(command.failOn) + 1);
  return lines.some(({ findings }) => findings.some(({ severity }) => failing.includes(severity))) ? 1 : 0;
}

async function checkModel(
  { label, read, source }: Model,
  yardsticks: Yardsticks,
  waivers: readonly Waiver[] | null,
  { out, day }: CheckCommand,
): Promise<CheckLine> {
  const profile = yardsticks.profile.id;
  try {
    const repaired = out !== undefined && source ? await repairFile(source, yardsticks, new Set(SAFE_REPAIRS)) : null;
    const { plan, findings } = repaired ?? checkReading(await read(), yardsticks);
    const stem = path.basename(label).replace(/\.[^.]+$/, '');
    const sorted = sortWaived(findings, waivers ?? [], [label, path.basename(label), stem], day);
    return {
      file: label,
      profile,
      findings: sorted.open.map((finding) => asLine(finding, plan)),
      ...(waivers && {
        waived: sorted.waived.map(({ finding, waiver: { reason, author, until } }) => ({
          key: finding.key,
          reason,
          author,
          until,
        })),
      }),
      ...(repaired &&
        out !== undefined && {
          repaired: { repairs: [...repaired.repairs], written: await keep(out, label, repaired.glb) },
        }),
    };
  } catch (error) {
    return { file: label, profile, findings: [], error: problemOf(error, label) };
  }
}

async function keep(folder: string, label: string, glb: Uint8Array): Promise<string> {
  await mkdir(folder, { recursive: true });
  const at = path.join(folder, `${slugOf(path.basename(label).replace(/\.[^.]+$/, ''))}.glb`);
  await writeWhole(at, glb);
  return at;
}

function asLine(finding: Finding, { rig }: HandoffPlan): CheckedFinding {
  const { key, check: name, severity, sentence, amount, boneIndices, parts, repair } = finding;
  return {
    key,
    check: name,
    severity,
    sentence,
    measured: amount ? rounded(amount.measured) : finding.measured,
    allowed: amount ? rounded(amount.allowed) : finding.allowed,
    unit: amount?.unit ?? '',
    bones: boneIndices.map((bone) => rig.bones[bone].name),
    parts,
    ...(repair && { repair }),
  };
}

const rounded = (value: number): number => Math.round(value * 1e6) / 1e6;

/** @throws {YarvoError} `bad-waivers` with every fault of the file. */
async function loadWaivers(file: string | undefined): Promise<Waiver[] | null> {
  if (file === undefined) return null;
  const text = await readFile(file, 'utf8').catch((error: Error) => error.message);
  const parsed = WaiverFileSchema.safeParse(jsonOf(text));
  if (parsed.success) return parsed.data.waivers;
  throw new YarvoError({
    code: 'bad-waivers',
    message: `This is no file of waivers: ${faultsOf(parsed.error)}.`,
    place: file,
    remedy: 'See docs/formats.md for what it holds.',
  });
}
