import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import type { HouseLine, HouseListing, Unmade } from '@/contract/house-line';
import { problemOf } from '@/core/errors/yarvo-error';
import { changeGait } from '@/core/house/gait-settings';
import { HOUSE_SET, houseEntry, takesNone, type HouseEntry } from '@/core/house/house-set';
import { HOUSE_RATE, sampleHouse, type HouseMotion } from '@/core/house/house-motion';
import { NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import { encodeMotion } from '@/core/motion/motion-file';
import { readCarryCharacter, writeCarried } from '@/pipeline/carry';
import { houseFigure } from '@/pipeline/house-figure';
import { rateOf } from './options';
import { writeWhole } from './write-whole';
import { loadYardsticks } from './yardsticks';

export interface ListCommand {
  readonly json: boolean;
  readonly write: (text: string) => void;
}

/** Lists the house set. @returns the exit code. */
export function listMotions({ json, write }: ListCommand): 0 {
  for (const { id, label, note, settings, make } of HOUSE_SET) {
    const { seconds, loops } = make(settings);
    const line: HouseListing = { name: id, label, note, seconds, loops, settings };
    write(
      json ? `${JSON.stringify(line)}\n` : `${id.padEnd(14)}${seconds.toFixed(1).padStart(5)} s  ${label}. ${note}\n`,
    );
  }
  return 0;
}

export interface MakeCommand extends ListCommand {
  readonly name: string;
  /** Settings as they were typed, "speed=1.6". */
  readonly set: readonly string[];
  readonly out: string;
  readonly rate?: string;
  readonly definition?: string;
}

/**
 * Makes a motion of the house set: as a motion free of any rig, and played by the figure that it is made for, as GLB and
 * BVH. Nothing is written where a setting is wrong. @returns the exit code.
 */
export async function makeMotion(command: MakeCommand): Promise<0 | 2> {
  const { name, out, json, write } = command;
  const say = (line: HouseLine | Unmade): void =>
    write(
      json
        ? `${JSON.stringify(line)}\n`
        : 'error' in line
          ? `${line.error.message} ${line.error.remedy}\n`
          : told(line),
    );
  try {
    const { definition } = await loadYardsticks(command.definition);
    const { house, settings } = houseMotionOf(houseEntry(name), command.set);
    const motion = sampleHouse(house, definition, rateOf(command.rate) ?? HOUSE_RATE);
    const figure = readCarryCharacter(houseFigure(), definition, 'house figure');
    const { glb, bvh } = await writeCarried(motion, figure, NO_ROOT_TRAVEL);
    await mkdir(out, { recursive: true });
    const files = Object.fromEntries(
      (['motion', 'glb', 'bvh'] as const).map((kind) => [
        kind,
        path.join(out, `${name}.${kind === 'motion' ? 'yarvomotion' : kind}`),
      ]),
    ) as HouseLine['out'];
    await writeWhole(files.motion, encodeMotion(motion));
    await writeWhole(files.glb, glb);
    await writeWhole(files.bvh, bvh);
    const { frameCount: frames, framesPerSecond: rate, contacts } = motion;
    say({
      name,
      frames,
      rate,
      loops: house.loops,
      settings,
      remarks: [...house.remarks],
      contacts: [...contacts],
      out: files,
    });
    return 0;
  } catch (error) {
    say({ name, error: problemOf(error, name) });
    return 2;
  }
}

/**
 * Makes an entry with settings as they were typed.
 * @throws {YarvoError} `bad-setting`, where the entry takes none as well.
 */
export function houseMotionOf(
  { id, settings, make }: HouseEntry,
  set: readonly string[],
): { readonly house: HouseMotion; readonly settings: HouseEntry['settings'] } {
  if (settings === null && set.length > 0) throw takesNone(id);
  const changed = settings && changeGait(settings, set, id);
  return { house: make(changed), settings: changed };
}

function told({ name, frames, rate, remarks, out }: HouseLine): string {
  const said = remarks.map((remark) => `  ${remark}\n`).join('');
  return `${name}: ${frames} frames at ${rate}/s, written to ${out.motion}, ${out.glb} and ${out.bvh}\n${said}`;
}
