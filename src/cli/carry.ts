import { mkdir, rename, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { CarryLine, Uncarried } from '@/contract/carry-line';
import type { Definition } from '@/core/definition/definition';
import { problemOf, YarvoError } from '@/core/errors/yarvo-error';
import { ROOT_COMPONENTS, type RootComponent, type RootTravel } from '@/core/motion/carry-options';
import { classifyPosture } from '@/core/posture/classify-posture';
import { measurePosture } from '@/core/posture/measure-posture';
import { computeWorlds } from '@/core/rig/pose';
import { slugOf } from '@/core/text/slug';
import {
  clipsOf,
  readCarryCharacter,
  readMotionSource,
  writeCarried,
  type MotionSource,
  type Reference,
} from '@/pipeline/carry';
import type { AutoFit } from '@/pipeline/fitted-source';
import { assignmentsOf } from '@/pipeline/inspect';
import { modelsIn, type Model } from './models';
import { loadYardsticks } from './yardsticks';

export interface CarryCommand {
  readonly motion: string;
  readonly characters: readonly string[];
  readonly json: boolean;
  /** Folder for what is written. */
  readonly out: string;
  /** The clip to carry; all by default. */
  readonly clip?: string;
  /** Frames a second, as it was typed; the clip's own by default. */
  readonly rate?: string;
  readonly definition?: string;
  /** "rest", "bind" or "frame:N". */
  readonly reference: string;
  /** "none", or components of the hips' travel for the root, joined by commas. */
  readonly root: string;
  readonly write: (text: string) => void;
}

interface Wishes {
  readonly definition: Definition;
  readonly reference: Reference;
  readonly framesPerSecond: number | null;
  readonly travel: RootTravel;
}

/** Carries clips of motion files to characters, a line for each as soon as it is written. @returns the exit code. */
export async function carry(command: CarryCommand): Promise<0 | 2> {
  const { definition } = await loadYardsticks(command.definition);
  const wishes: Wishes = {
    definition,
    reference: referenceOf(command.reference),
    framesPerSecond: rateOf(command.rate),
    travel: { components: rootOf(command.root), cutoffHz: null, others: 'follow' },
  };
  await mkdir(command.out, { recursive: true });
  const taken = new Set<string>();
  let code: 0 | 2 = 0;
  const say = (line: CarryLine | Uncarried): void => {
    if ('error' in line) code = 2;
    command.write(command.json ? `${JSON.stringify(line)}\n` : describe(line));
  };
  for await (const motion of modelsIn(command.motion)) {
    const clips = await clipNames(motion, command.clip).catch((error: unknown) => problemOf(error, motion.label));
    if (!Array.isArray(clips)) {
      say({ motion: motion.label, error: clips });
      continue;
    }
    for (const { index, name } of clips) await carryClip(motion, index, name);
  }
  return code;

  async function carryClip(motion: Model, index: number, clip: string): Promise<void> {
    let source: MotionSource;
    try {
      source = readMotionSource(await motion.read(), index, wishes, motion.label);
    } catch (error) {
      say({ motion: motion.label, clip, error: problemOf(error, `${motion.label}, clip "${clip}"`) });
      return;
    }
    for (const file of command.characters)
      for await (const character of modelsIn(file)) {
        try {
          say(await carryTo(motion.label, clip, source, character));
        } catch (error) {
          const { label } = character;
          say({ motion: motion.label, clip, character: label, error: problemOf(error, label) });
        }
      }
  }

  async function carryTo(
    motion: string,
    clip: string,
    source: MotionSource,
    { label, read }: Model,
  ): Promise<CarryLine> {
    const character = readCarryCharacter(await read(), definition, label);
    const { glb, bvh } = await writeCarried(source.motion, character, wishes.travel);
    const stem = freeName(`${stemOf(label)}-${slugOf(clip === 'motion' ? stemOf(motion) : clip)}`, taken);
    const out = { glb: path.join(command.out, `${stem}.glb`), bvh: path.join(command.out, `${stem}.bvh`) };
    await writeWhole(out.glb, glb);
    await writeWhole(out.bvh, bvh);
    return {
      motion,
      clip,
      character: label,
      frames: source.motion.frameCount,
      rate: source.motion.framesPerSecond,
      source: fitOf(source.fit),
      ...fitOf(character.fit),
      out,
    };
  }
}

const fitOf = (fit: AutoFit) => ({ assignments: assignmentsOf(fit.rig, fit.match), posture: postureOf(fit) });

function postureOf({ fitted }: AutoFit): CarryLine['posture'] {
  const { deviations, frames } = measurePosture({ ...fitted, worlds: computeWorlds(fitted.rig, fitted.pose) });
  const degrees = (rad: number): number => Math.round(((rad * 180) / Math.PI) * 1000) / 1000;
  return {
    class: classifyPosture(frames).class,
    deviationsDeg: Object.fromEntries(deviations.map(({ role, deviationRad }) => [role, degrees(deviationRad)])),
    rollsDeg: Object.fromEntries(
      deviations.flatMap(({ role, rollRad }) => (rollRad === null ? [] : [[role, degrees(rollRad)]])),
    ),
  };
}

/** Clips to carry. @throws {YarvoError} `no-clip` */
async function clipNames(motion: Model, wanted: string | undefined): Promise<{ index: number; name: string }[]> {
  const reading = await motion.read();
  const all = clipsOf(reading, motion.label).map(({ name }, index) => ({ index, name }));
  const found = wanted === undefined ? all : all.filter(({ name }) => name === wanted);
  if (found.length > 0) return found;
  throw new YarvoError({
    code: 'no-clip',
    message: `There is no clip "${wanted}".`,
    place: motion.label,
    remedy: `The file's clips: ${all.map(({ name }) => `"${name}"`).join(', ')}.`,
  });
}

const stemOf = (label: string): string => slugOf(path.basename(label).replace(/\.[^.]+$/, ''));

function freeName(stem: string, taken: Set<string>): string {
  let name = stem;
  for (let count = 2; taken.has(name); count++) name = `${stem}-${count}`;
  taken.add(name);
  return name;
}

/** Written beside and then renamed, so that nothing half written is ever found under the name. */
async function writeWhole(file: string, content: Uint8Array | string): Promise<void> {
  const beside = `${file}.part`;
  await writeFile(beside, content);
  await rename(beside, file);
}

const wrong = (option: string, value: string, remedy: string): YarvoError =>
  new YarvoError({ code: 'bad-option', message: `${option} cannot be "${value}". ${remedy}`, place: option, remedy });

function referenceOf(text: string): Reference {
  if (text === 'rest' || text === 'bind') return { kind: text };
  const [, frame] = /^frame:(\d+)$/.exec(text) ?? [];
  if (frame === undefined) throw wrong('--reference', text, 'Give rest, bind or frame:N.');
  return { kind: 'frame', frame: Number(frame) };
}

function rateOf(text: string | undefined): number | null {
  if (text === undefined) return null;
  const rate = Number(text);
  if (!(rate > 0 && rate <= 1000)) throw wrong('--rate', text, 'Give frames a second, above 0 and up to 1000.');
  return rate;
}

function rootOf(text: string): RootComponent[] {
  if (text === 'none') return [];
  return text.split(',').map((part) => {
    const found = ROOT_COMPONENTS.find((component) => component === part.trim());
    if (!found) throw wrong('--root', text, `Give none, or some of ${ROOT_COMPONENTS.join(', ')}, joined by commas.`);
    return found;
  });
}

function describe(line: CarryLine | Uncarried): string {
  const subject = [line.motion, line.clip, line.character].filter((part) => part !== undefined).join(' · ');
  if ('error' in line) return `${subject}: ${line.error.message} (${line.error.place}) ${line.error.remedy}\n`;
  const doubtful = Object.values(line.source.assignments).filter(({ state }) => state === 'doubtful').length;
  const doubts = doubtful > 0 ? `, ${doubtful} roles of the source doubtful` : '';
  return `${subject}: ${line.frames} frames at ${Number(line.rate.toFixed(3))}/s${doubts}, written to ${line.out.glb} and ${line.out.bvh}\n`;
}
