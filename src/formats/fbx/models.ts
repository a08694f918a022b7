import { invertAffine, IDENTITY, type Mat4 } from '@/core/math/mat4';
import type { Transform } from '@/core/rig/rig';
import type { DraftNode } from '../scene/scene-draft';
import { fbxError } from './fbx-tree';
import type { FbxObject, FbxObjects } from './objects';
import {
  localFrom,
  localTransform,
  readStack,
  ROOT_WORLD,
  worldBelow,
  type Animated,
  type TransformStack,
  type World,
} from './transform';

/** All models of a file as one tree, with their rest and with what a take makes of it. */
export interface FbxSkeleton {
  readonly nodes: DraftNode[];
  readonly models: readonly FbxObject[];
  readonly indexOf: ReadonlyMap<FbxObject, number>;
  readonly worlds: readonly Mat4[];
  readonly stackOf: (model: FbxObject) => TransformStack;
  /** Local transforms of the nodes that differ from or are keyed against the rest, under the given animation. */
  readonly localsWith: (
    animated: (model: FbxObject) => Animated,
    keyed: ReadonlyMap<FbxObject, unknown>,
  ) => [number, Transform][];
  readonly remarks: readonly string[];
}

const JOINT_TYPES = new Set(['LimbNode', 'Limb', 'Root', 'Effector']);
const SHEAR_TOLERANCE = 1e-4;

/** @throws {YarvoError} where models form a circle or a scale is no number. */
export function readModels(objects: FbxObjects): FbxSkeleton {
  const models = objects.all.filter((object) => object.kind === 'Model');
  const indexOf = new Map(models.map((model, index) => [model, index]));
  const parents = models.map(
    (model) =>
      indexOf.get(objects.parentsOf(model, 'Model').find((link) => link.property === '')?.object as FbxObject) ?? -1,
  );
  const order = parentFirst(parents, models);
  const stacks = models.map((model) => readStack(model.properties));
  const stackByModel = new Map(models.map((model, index) => [model, stacks[index]]));
  // Scale that is not plain multiplication in some node makes every frame go through the worlds.
  const multiplies = stacks.every((stack) => stack.inheritance === 'RSrs');
  const isPlain =
    multiplies ||
    (stacks.every((stack) => isUniform(stack.scaling)) &&
      (stacks.every((stack) => isOne(stack.scaling)) || !stacks.some((stack) => stack.inheritance === 'Rrs')));

  const worldsOf = (locals: readonly Transform[]): World[] => {
    const worlds: World[] = new Array(models.length);
    for (const node of order)
      worlds[node] = worldBelow(
        parents[node] >= 0 ? worlds[parents[node]] : ROOT_WORLD,
        locals[node],
        stacks[node].inheritance,
      );
    return worlds;
  };
  const restLocals = stacks.map((stack) => localTransform(stack));
  restLocals.forEach((local, node) => {
    if (![...local.translation, ...local.rotation, ...local.scale].every(Number.isFinite))
      throw fbxError(
        'bad-number',
        `The transform of "${models[node].name}" is not finite.`,
        models[node].node.place,
        "Reset this bone's transform and export again.",
      );
  });
  const worlds = worldsOf(restLocals);
  const remarks: string[] = [];
  const rests = isPlain
    ? restLocals
    : plainLocals(worlds, parents, (node, shear) => {
        if (shear > SHEAR_TOLERANCE)
          remarks.push(`${models[node].name} is sheared by its parent's scale; the shear is left out.`);
      });
  const nodes = models.map((model, index): DraftNode => ({
    name: model.name,
    parent: parents[index],
    rest: rests[index],
    kind: kindOf(objects, model),
  }));
  return {
    nodes,
    models,
    indexOf,
    worlds: worlds.map((world) => world.matrix),
    stackOf: (model) => stackByModel.get(model) as TransformStack,
    remarks,
    localsWith: (animated, keyed) => {
      const changes = new Map([...keyed.keys()].map((model) => [model, animated(model)]));
      const keepsScale = [...changes.values()].every(
        ({ scaling }) => !scaling || (isUniform(scaling) && isOne(scaling)),
      );
      if (multiplies || (isPlain && keepsScale))
        return [...changes].map(([model, change]) => [
          indexOf.get(model) as number,
          localTransform(stackByModel.get(model) as TransformStack, change),
        ]);
      const moved = plainLocals(
        worldsOf(models.map((model, index) => localTransform(stacks[index], changes.get(model)))),
        parents,
        () => undefined,
      );
      return moved.map((local, node) => [node, local]);
    },
  };
}

const isUniform = ([x, y, z]: readonly number[]): boolean => Math.abs(x - y) < 1e-9 && Math.abs(y - z) < 1e-9;
const isOne = (scaling: readonly number[]): boolean => scaling.every((value) => Math.abs(value - 1) < 1e-9);

function plainLocals(
  worlds: readonly World[],
  parents: readonly number[],
  onShear: (node: number, shear: number) => void,
): Transform[] {
  return worlds.map((world, node) => {
    const parent = parents[node] >= 0 ? worlds[parents[node]].matrix : IDENTITY;
    if (!invertAffine(parent)) return { translation: [0, 0, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1] };
    const { rest, shear } = localFrom(parent, world.matrix);
    onShear(node, shear);
    return rest;
  });
}

function parentFirst(parents: readonly number[], models: readonly FbxObject[]): number[] {
  const children: number[][] = parents.map(() => []);
  const order: number[] = [];
  parents.forEach((parent, node) => (parent >= 0 ? children[parent].push(node) : order.push(node)));
  for (let at = 0; at < order.length; at++) order.push(...children[order[at]]);
  if (order.length < parents.length) {
    const lost = parents.findIndex((_, node) => !order.includes(node));
    throw fbxError('cyclic-nodes', `"${models[lost].name}" is its own ancestor.`, models[lost].node.place);
  }
  return order;
}

function kindOf(objects: FbxObjects, model: FbxObject): DraftNode['kind'] {
  const types = [model.type, ...objects.childrenOf(model, 'NodeAttribute').map(({ object }) => object.type)];
  if (types.some((type) => JOINT_TYPES.has(type))) return 'joint';
  if (types.includes('Camera') || types.includes('CameraSwitcher')) return 'camera';
  return types.includes('Light') ? 'light' : 'node';
}
