import { YarvoError } from '@/core/errors/yarvo-error';
import { compose, decompose, multiply, IDENTITY, type Mat4 } from '@/core/math/mat4';
import { fromAxisAngle } from '@/core/math/quat';
import { cross, normalise, subtract, type Vec3 } from '@/core/math/vec3';
import type { Transform } from '@/core/rig/rig';
import type { DraftNode } from '../scene/scene-draft';
import { attribute, children, numbers, placeOf, text, type Xml } from './xml';

const MAX_NODES = 20_000;
const MAX_DEPTH = 1_000;
const LENGTHS: Record<string, number> = { translate: 3, rotate: 4, scale: 3, matrix: 16, lookat: 9, skew: 7 };

/** One step of a node's transform stack, as the file writes it. */
export interface Step {
  readonly sid: string;
  readonly kind: string;
  readonly values: Float64Array;
}

export interface ColladaNode {
  readonly index: number;
  readonly id: string;
  readonly sid: string;
  readonly element: Xml;
  readonly steps: readonly Step[];
}

export interface ColladaTree {
  readonly drafts: DraftNode[];
  readonly nodes: readonly ColladaNode[];
  readonly worlds: readonly Mat4[];
  readonly remarks: readonly string[];
}

/** The nodes of a visual scene, with library nodes put where they are instanced. @throws {YarvoError} */
export function readNodes(scene: Xml, byId: ReadonlyMap<string, Xml>, place: string): ColladaTree {
  const drafts: DraftNode[] = [];
  const nodes: ColladaNode[] = [];
  const worlds: Mat4[] = [];
  const remarks: string[] = [];
  const add = (element: Xml, parent: number, depth: number, open: readonly Xml[]) => {
    if (nodes.length >= MAX_NODES)
      throw new YarvoError({
        code: 'too-many',
        message: `More than ${MAX_NODES} nodes.`,
        place,
        remedy: 'Check that this is one character and not a scene.',
      });
    if (depth > MAX_DEPTH)
      throw new YarvoError({
        code: 'too-deep',
        message: `Nodes are nested more than ${MAX_DEPTH} deep.`,
        place: placeOf(element, place),
        remedy: 'Export the file again; its tree is damaged.',
      });
    if (open.includes(element))
      throw new YarvoError({
        code: 'cyclic-nodes',
        message: `The node "${attribute(element, 'name') || attribute(element, 'id')}" is its own ancestor.`,
        place: placeOf(element, place),
        remedy: 'Export the file again; its tree is damaged.',
      });
    const steps = readSteps(element, place);
    const local = stepsMatrix(steps);
    const { rest, shear } = restOf(local);
    const [id, sid, given] = [attribute(element, 'id'), attribute(element, 'sid'), attribute(element, 'name')];
    const name = given || id || sid;
    if (shear > 1e-4) remarks.push(`${name} is sheared; the shear is left out.`);
    const kind =
      attribute(element, 'type') === 'JOINT'
        ? 'joint'
        : children(element, 'instance_camera').length > 0
          ? 'camera'
          : children(element, 'instance_light').length > 0
            ? 'light'
            : 'node';
    const index = drafts.push({ name, parent, rest, kind }) - 1;
    nodes.push({ index, id, sid, element, steps });
    worlds.push(multiply(parent >= 0 ? worlds[parent] : IDENTITY, local));
    for (const below of children(element, 'node')) add(below, index, depth + 1, [...open, element]);
    for (const instance of children(element, 'instance_node')) {
      const target = byId.get(attribute(instance, 'url').replace(/^#/, ''));
      if (target) add(target, index, depth + 1, [...open, element]);
    }
  };
  for (const element of children(scene, 'node')) add(element, -1, 0, []);
  return { drafts, nodes, worlds, remarks };
}

function readSteps(element: Xml, place: string): Step[] {
  return children(element).flatMap((step): Step[] => {
    const wanted = LENGTHS[step.localName ?? ''];
    if (!wanted) return [];
    const values = numbers(step);
    if (values.some(Number.isNaN) && text(step).includes(','))
      throw new YarvoError({
        code: 'decimal-comma',
        message: `<${step.localName}> writes decimal commas ("${text(step).slice(0, 40)}"), which the format does not allow.`,
        place: placeOf(step, place),
        remedy: "Export again with a decimal point (set the system's number format to English).",
      });
    if (values.length < wanted || !values.every(Number.isFinite))
      throw new YarvoError({
        code: 'bad-number',
        message: `<${step.localName}> needs ${wanted} finite numbers.`,
        place: placeOf(step, place),
        remedy: "Reset this node's transform and export again.",
      });
    return [{ sid: attribute(step, 'sid'), kind: step.localName as string, values }];
  });
}

export function stepsMatrix(steps: readonly Step[]): Mat4 {
  return steps.reduce<Mat4>((matrix, step) => multiply(matrix, stepMatrix(step)), IDENTITY);
}

function stepMatrix({ kind, values }: Step): Mat4 {
  const v = (at: number): Vec3 => [values[at], values[at + 1], values[at + 2]];
  switch (kind) {
    case 'translate':
      return compose(v(0), [0, 0, 0, 1], [1, 1, 1]);
    case 'scale':
      return compose([0, 0, 0], [0, 0, 0, 1], v(0));
    case 'rotate':
      return compose([0, 0, 0], fromAxisAngle(normalise(v(0)) ?? [1, 0, 0], (values[3] * Math.PI) / 180), [1, 1, 1]);
    case 'matrix':
      return rowsToColumns(values);
    case 'lookat':
      return lookAt(v(0), v(3), v(6));
    default:
      return skew(values);
  }
}

/** COLLADA writes matrices row by row. */
export function rowsToColumns(values: ArrayLike<number>, at = 0): number[] {
  return Array.from({ length: 16 }, (_, index) => values[at + (index % 4) * 4 + Math.floor(index / 4)]);
}

function lookAt(eye: Vec3, target: Vec3, upHint: Vec3): Mat4 {
  const back = normalise(subtract(eye, target)) ?? [0, 0, 1];
  const right = normalise(cross(upHint, back)) ?? [1, 0, 0];
  const up = cross(back, right);
  return [...right, 0, ...up, 0, ...back, 0, ...eye, 1];
}

/** Source: COLLADA 1.4.1, <skew>: angle, the axis that turns, the axis that it slides along. */
function skew(values: Float64Array): Mat4 {
  const [angle, slide, turn] = [
    (values[0] * Math.PI) / 180,
    [values[4], values[5], values[6]],
    [values[1], values[2], values[3]],
  ];
  const matrix = [...IDENTITY];
  for (let row = 0; row < 3; row++)
    for (let column = 0; column < 3; column++) matrix[column * 4 + row] += Math.tan(angle) * slide[row] * turn[column];
  return matrix;
}

export function restOf(local: Mat4): { rest: Transform; shear: number } {
  const { translation, rotation, scale, shear } = decompose(local);
  return { rest: { translation, rotation, scale }, shear };
}
