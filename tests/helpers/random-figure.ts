import { Document, type Node } from '@gltf-transform/core';
import fc from 'fast-check';
import { createNodeIO } from '@/formats/gltf/node-io';

/** What a random skinned file is made of; everything else follows from `seed`. */
export interface FigureShape {
  readonly bones: number;
  readonly vertices: number;
  /** Sets of four influences. */
  readonly sets: number;
  readonly targets: number;
  readonly hasTwoSkins: boolean;
  /** Largest ratio between the scales of one bone's axes. */
  readonly unevenness: number;
  readonly seed: number;
}

export const figureShape: fc.Arbitrary<FigureShape> = fc.record({
  bones: fc.integer({ min: 2, max: 12 }),
  vertices: fc.integer({ min: 3, max: 40 }),
  sets: fc.integer({ min: 1, max: 3 }),
  targets: fc.integer({ min: 0, max: 2 }),
  hasTwoSkins: fc.boolean(),
  unevenness: fc.constantFrom(1, 1, 1.6),
  seed: fc.integer({ min: 1, max: 2 ** 31 - 1 }),
});

/** Numbers between -1 and 1 that a seed repeats: the generator of Park and Miller. */
function numbersFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 48_271) % 2_147_483_647;
    return (state / 2_147_483_647) * 2 - 1;
  };
}

const unitQuat = (next: () => number): [number, number, number, number] => {
  const q = [next(), next(), next(), next() + 0.1];
  const length = Math.hypot(...q) || 1;
  return q.map((value) => value / length) as [number, number, number, number];
};

/** A skinned file with bones, binds, weights and morph targets at random; one mesh on one skin, or on two. */
export async function writeRandomFigure(shape: FigureShape): Promise<Uint8Array> {
  const next = numbersFrom(shape.seed);
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene();
  const bones: Node[] = [];
  for (let at = 0; at < shape.bones; at++) {
    const even = 1 + 0.3 * next();
    const scale = [0, 1, 2].map(() => even * (1 + ((shape.unevenness - 1) * (next() + 1)) / 2));
    const node = document
      .createNode(`bone ${at}`)
      .setTranslation([next(), next(), next()])
      .setRotation(unitQuat(next))
      .setScale(scale as [number, number, number]);
    const parent = bones[Math.floor(((next() + 1) / 2) * at)];
    if (parent) parent.addChild(node);
    else scene.addChild(node);
    bones.push(node);
  }
  const accessor = (type: 'VEC3' | 'VEC4' | 'MAT4', array: Float32Array | Uint8Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const vectors = (isUnit: boolean, size: 3 | 4 = 3) => {
    const out = new Float32Array(shape.vertices * size);
    for (let at = 0; at < shape.vertices; at++) {
      const v = [next(), next(), next()];
      const length = isUnit ? Math.hypot(...v) || 1 : 1;
      out.set(
        v.map((value) => value / length),
        at * size,
      );
      if (size === 4) out[at * 4 + 3] = 1;
    }
    return accessor(size === 3 ? 'VEC3' : 'VEC4', out);
  };
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', vectors(false))
    .setAttribute('NORMAL', vectors(true))
    .setAttribute('TANGENT', vectors(true, 4));
  for (let target = 0; target < shape.targets; target++)
    primitive.addTarget(document.createPrimitiveTarget().setAttribute('POSITION', vectors(false)));
  addInfluences(shape, next, (name, array) => primitive.setAttribute(name, accessor('VEC4', array)));
  const mesh = document.createMesh('body').addPrimitive(primitive);
  for (let skinAt = 0; skinAt < (shape.hasTwoSkins ? 2 : 1); skinAt++) {
    const binds = new Float32Array(shape.bones * 16);
    for (let at = 0; at < shape.bones; at++) binds.set(randomBind(next), at * 16);
    const skin = document.createSkin().setInverseBindMatrices(accessor('MAT4', binds));
    for (const bone of bones) skin.addJoint(bone);
    scene.addChild(document.createNode(`mesh ${skinAt}`).setMesh(mesh).setSkin(skin));
  }
  return createNodeIO().writeBinary(document);
}

function addInfluences(
  { bones, vertices, sets }: FigureShape,
  next: () => number,
  add: (name: string, array: Float32Array | Uint8Array) => void,
): void {
  const weights = Array.from({ length: vertices }, () => {
    const raw = Array.from({ length: sets * 4 }, (_, at) => (at < bones ? (next() + 1) ** 2 : 0));
    const sum = raw.reduce((total, value) => total + value, 0);
    return raw.map((value) => value / sum);
  });
  for (let set = 0; set < sets; set++) {
    const joints = new Uint8Array(vertices * 4);
    const shares = new Float32Array(vertices * 4);
    for (let vertex = 0; vertex < vertices; vertex++)
      for (let part = 0; part < 4; part++) {
        const at = set * 4 + part;
        // Each joint once a vertex, in an order of the vertex's own.
        joints[vertex * 4 + part] = at < bones ? (at + vertex) % bones : 0;
        shares[vertex * 4 + part] = weights[vertex][at];
      }
    add(`JOINTS_${set}`, joints);
    add(`WEIGHTS_${set}`, shares);
  }
}

/** A turn, a place and an even scale, as an inverse bind matrix. */
function randomBind(next: () => number): number[] {
  const [x, y, z, w] = unitQuat(next);
  const s = 1 + 0.3 * next();
  return [
    s * (1 - 2 * (y * y + z * z)),
    s * 2 * (x * y + z * w),
    s * 2 * (x * z - y * w),
    0,
    s * 2 * (x * y - z * w),
    s * (1 - 2 * (x * x + z * z)),
    s * 2 * (y * z + x * w),
    0,
    s * 2 * (x * z + y * w),
    s * 2 * (y * z - x * w),
    s * (1 - 2 * (x * x + y * y)),
    0,
    next(),
    next(),
    next(),
    1,
  ];
}
