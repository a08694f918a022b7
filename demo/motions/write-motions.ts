import { Document } from '@gltf-transform/core';
import { createNodeIO } from '@/formats/gltf/node-io';
import { conjugate, multiply, normalise, type Quat } from '@/core/math/quat';
import { subtract } from '@/core/math/vec3';
import { eulerXyz, type Writing } from '../formats/gather';
import { bvhText } from '../formats/write-bvh';
import { writeFbxMotion } from '../formats/write-fbx-motion';
import { FRAMES_PER_SECOND, restPlaces, type Played } from './actor';

/** A played clip as BVH: what the file calls rest has no turns, and stands as the actor rests. */
export function playedBvh(played: Played): string {
  const { names, parents, rest, clips } = played;
  const [clip] = clips;
  const places = restPlaces(played);
  const worldsOf = (locals: readonly Quat[]): Quat[] => {
    const worlds: Quat[] = [];
    locals.forEach((local, joint) =>
      worlds.push(parents[joint] < 0 ? local : normalise(multiply(worlds[parents[joint]], local))),
    );
    return worlds;
  };
  const restWorlds = worldsOf(rest.map(({ rotation }) => rotation));
  const frames = Array.from({ length: clip.frameCount }, (_, frame) => {
    const turns = worldsOf(clip.rotations.map((row) => row[frame])).map((world, joint) =>
      multiply(world, conjugate(restWorlds[joint])),
    );
    return names.map((_name, joint) => {
      const parent = parents[joint];
      return parent < 0 ? turns[joint] : multiply(conjugate(turns[parent]), turns[joint]);
    });
  });
  return bvhText({
    names,
    parents,
    offsets: places.map((place, joint) => (parents[joint] < 0 ? [0, 0, 0] : subtract(place, places[parents[joint]]))),
    rootPlaces: clip.hips.translations,
    turns: frames,
    framesPerSecond: FRAMES_PER_SECOND,
  });
}

/** Played clips as a GLB of joints alone, in whatever units and axes they were played in. */
export async function playedGlb({ names, parents, rest, clips }: Played): Promise<Uint8Array> {
  const document = new Document();
  document.getRoot().getAsset().generator = 'Yarvo demo motions';
  const buffer = document.createBuffer();
  const scene = document.createScene('motion');
  const nodes = names.map((name, joint) =>
    document
      .createNode(name)
      .setTranslation([...rest[joint].translation])
      .setRotation([...rest[joint].rotation]),
  );
  nodes.forEach((node, joint) => (parents[joint] < 0 ? scene.addChild(node) : nodes[parents[joint]].addChild(node)));
  const accessor = (type: 'SCALAR' | 'VEC3' | 'VEC4', array: Float32Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  for (const { name, frameCount, rotations, hips } of clips) {
    const animation = document.createAnimation(name);
    const times = accessor(
      'SCALAR',
      Float32Array.from({ length: frameCount }, (_, frame) => frame / FRAMES_PER_SECOND),
    );
    const add = (joint: number, path: 'rotation' | 'translation', values: Float32Array) => {
      const sampler = document
        .createAnimationSampler()
        .setInput(times)
        .setOutput(accessor(path === 'rotation' ? 'VEC4' : 'VEC3', values));
      const channel = document.createAnimationChannel().setTargetNode(nodes[joint]).setTargetPath(path);
      animation.addSampler(sampler).addChannel(channel.setSampler(sampler));
    };
    rotations.forEach((row, joint) => add(joint, 'rotation', Float32Array.from(row.flat())));
    add(hips.joint, 'translation', Float32Array.from(hips.translations.flat()));
  }
  return createNodeIO().writeBinary(document);
}

/** Played clips as takes of a text FBX. */
export const playedFbx = (played: Played, writing: Writing): string =>
  writeFbxMotion(
    {
      names: played.names,
      parents: played.parents,
      rest: played.rest,
      takes: played.clips.map(({ name, rotations, hips }) => ({
        name,
        curves: [
          ...rotations.map((row, joint) => ({ joint, kind: 'R' as const, values: row.map((turn) => eulerXyz(turn)) })),
          { joint: hips.joint, kind: 'T' as const, values: hips.translations },
        ],
      })),
    },
    writing,
  );
