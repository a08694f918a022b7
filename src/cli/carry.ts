import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import type { CarryLine, Uncarried } from '@/contract/carry-line';
import { problemOf } from '@/core/errors/yarvo-error';
import type { RootTravel } from '@/core/motion/carry-options';
import { classifyPosture } from '@/core/posture/classify-posture';
import { measurePosture } from '@/core/posture/measure-posture';
import { computeWorlds } from '@/core/rig/pose';
import { slugOf } from '@/core/text/slug';
import { readCarryCharacter, writeCarried, type MotionSource } from '@/pipeline/carry';
import type { AutoFit } from '@/pipeline/fitted-source';
import { assignmentsOf } from '@/pipeline/inspect';
import { modelsIn, type Model } from './models';
import { motionsIn, type MotionWishes } from './motions-in';
import { groundingOf, rateOf, referenceOf, rootOf } from './options';
import { writeWhole } from './write-whole';
import { loadYardsticks } from './yardsticks';

export interface CarryCommand {
  /** A file, or "house:walk". */
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
  /** "leave", "likeness" or "plant". */
  readonly feet?: string;
  /** Settings of a motion of the house set, as they were typed: "speed=1.6". */
  readonly set?: readonly string[];
  readonly write: (text: string) => void;
}

/** Carries clips of motion files to characters, a line for each as soon as it is written. @returns the exit code. */
export async function carry(command: CarryCommand): Promise<0 | 2> {
  const { definition } = await loadYardsticks(command.definition);
  const wishes: MotionWishes = {
    definition,
    reference: referenceOf(command.reference),
    framesPerSecond: rateOf(command.rate),
    clip: command.clip,
    set: command.set ?? [],
  };
  const grounding = groundingOf(command.feet ?? 'leave');
  const travel: RootTravel = { components: rootOf(command.root), cutoffHz: null, others: 'follow' };
  await mkdir(command.out, { recursive: true });
  const taken = new Set<string>();
  let code: 0 | 2 = 0;
  const say = (line: CarryLine | Uncarried): void => {
    if ('error' in line) code = 2;
    command.write(command.json ? `${JSON.stringify(line)}\n` : describe(line));
  };
  for await (const { label, clip, read } of motionsIn(command.motion, wishes)) {
    try {
      await carryToAll(label, clip ?? label, await read());
    } catch (error) {
      say({ motion: label, clip, error: problemOf(error, clip === undefined ? label : `${label}, clip "${clip}"`) });
    }
  }
  return code;

  async function carryToAll(motion: string, clip: string, source: MotionSource): Promise<void> {
    for (const file of command.characters)
      for await (const character of modelsIn(file)) {
        try {
          say(await carryTo(motion, clip, source, character));
        } catch (error) {
          const { label } = character;
          say({ motion, clip, character: label, error: problemOf(error, label) });
        }
      }
  }

  async function carryTo(
    motion: string,
    clip: string,
    source: MotionSource,
    { label, read }: Model,
  ): Promise<CarryLine> {
    const character = readCarryCharacter(await read(), definition, label, grounding);
    const { glb, bvh } = await writeCarried(source.motion, character, travel);
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
      source: source.fit && fitOf(source.fit),
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
    class: classifyPosture({ deviations, frames }, fitted.definition).class,
    deviationsDeg: Object.fromEntries(deviations.map(({ role, deviationRad }) => [role, degrees(deviationRad)])),
    rollsDeg: Object.fromEntries(
      deviations.flatMap(({ role, rollRad }) => (rollRad === null ? [] : [[role, degrees(rollRad)]])),
    ),
  };
}

const stemOf = (label: string): string => slugOf(path.basename(label).replace(/\.[^.]+$/, ''));

function freeName(stem: string, taken: Set<string>): string {
  let name = stem;
  for (let count = 2; taken.has(name); count++) name = `${stem}-${count}`;
  taken.add(name);
  return name;
}

function describe(line: CarryLine | Uncarried): string {
  const subject = [line.motion, line.clip, line.character].filter((part) => part !== undefined).join(' · ');
  if ('error' in line) return `${subject}: ${line.error.message} (${line.error.place}) ${line.error.remedy}\n`;
  const doubtful = Object.values(line.source?.assignments ?? {}).filter(({ state }) => state === 'doubtful').length;
  const doubts = doubtful > 0 ? `, ${doubtful} roles of the source doubtful` : '';
  return `${subject}: ${line.frames} frames at ${Number(line.rate.toFixed(3))}/s${doubts}, written to ${line.out.glb} and ${line.out.bvh}\n`;
}
