import type { Rig } from '@/core/rig/rig';
import list from './bipeds.json';
import { readConverted, readModel } from './catalogue';

/** A two-legged skeleton by other hands and which node plays which role, written by hand. */
export interface Biped {
  readonly file: string;
  readonly sha256: string;
  /** True for a format that Yarvo does not read: it is converted first. */
  readonly convert?: boolean;
  readonly roles: Readonly<Record<string, number>>;
  /** Nodes that may serve as several roles, as a mitten's digits may. */
  readonly open: readonly number[];
}

export const BIPEDS: readonly Biped[] = list as unknown as readonly Biped[];

/** @throws {Error} where the file is not the one that the truth was written for. */
export async function readBiped({ file, sha256, convert }: Biped): Promise<Rig> {
  const { result, sha256: found } = await (convert ? readConverted(file) : readModel(file));
  if (result.verdict !== 'read') throw new Error(`${file} was not read: ${result.message}`);
  if (found !== sha256) throw new Error(`${file} is not the file that its truth was written for`);
  return result.rig;
}

/** The rig with names that say nothing; a name that the reader gave to an end keeps saying so. */
export const withoutNames = (rig: Rig): Rig => ({
  ...rig,
  bones: rig.bones.map((bone) => ({
    ...bone,
    name: bone.name.endsWith(' end') ? `q${bone.parent} end` : `q${bone.index}`,
  })),
});
