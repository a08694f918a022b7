import type { Vec3 } from '@/core/math/vec3';

/** A joint of a made rig before it gets its name: what it is and where it stands in a unit-sized body. */
export interface Draft {
  part: string;
  side: 'left' | 'right' | null;
  parent: number;
  place: Vec3;
  truth: string;
  /** 0 for bones that move nothing. */
  skin: number;
  segment?: number;
}
