import { compose, multiply, IDENTITY, type Mat4 } from '../math/mat4';
import type { Quat } from '../math/quat';
import type { Vec3 } from '../math/vec3';
import type { ClipTracks, Track } from '../clips/motion-tracks';
import { sampleTrack } from '../clips/sample-tracks';
import { computeCarriers } from './pose';
import type { Rig } from './rig';

/** Plays clips of a rig: world matrices of all bones at any time. What no track moves stays at rest. */
export class ClipPlayer {
  private readonly carriers: readonly Mat4[];

  constructor(private readonly rig: Rig) {
    this.carriers = computeCarriers(rig);
  }

  /** File-space world matrices, bone by bone. @param time seconds, in the clip's own time. */
  worldsAt(clip: ClipTracks, time: number): number[][] {
    const byBone = new Map<number, Track[]>();
    for (const track of clip.tracks) byBone.set(track.bone, [...(byBone.get(track.bone) ?? []), track]);
    const worlds: number[][] = [];
    this.rig.bones.forEach(({ rest, parent }, bone) => {
      const local = { translation: rest.translation, rotation: rest.rotation, scale: rest.scale };
      for (const track of byBone.get(bone) ?? []) {
        const value = sampleTrack(track, time);
        if (track.path === 'rotation') local.rotation = value as unknown as Quat;
        else local[track.path] = value as unknown as Vec3;
      }
      const base = multiply(parent >= 0 ? worlds[parent] : IDENTITY, this.carriers[bone]);
      worlds.push(multiply(base, compose(local.translation, local.rotation, local.scale)));
    });
    return worlds;
  }
}
