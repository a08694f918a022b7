import { z } from 'zod';
import { YarvoError } from '../errors/yarvo-error';
import { MotionHeadSchema, type Motion } from './motion';

/** Where an array stands in the binary block: 32-bit floats, little-endian; counted in numbers. */
const ArraySchema = z.strictObject({ offset: z.int().nonnegative(), length: z.int().nonnegative() });
const OptionalArray = ArraySchema.nullable();

/**
 * The JSON of a motion file. Arrays lie in the binary block that follows it, frame after frame; quaternions x y z w;
 * lengths in legs of the source; body frame x left, y up, z ahead.
 */
export const MotionFileSchema = MotionHeadSchema.extend({
  schema: z.literal('yarvo-motion-1'),
  /** [frameCount x slots x 4] turn of each slot against the reference posture. */
  rotations: ArraySchema,
  /** [frameCount x 3] displacement of the hips. */
  hips: ArraySchema,
  /** The source's own root: [frameCount x 3] and [frameCount x 4]. */
  root: z.strictObject({ places: ArraySchema, rotations: ArraySchema }).nullable(),
  /** [frameCount x 3] each. */
  shifts: z.array(z.strictObject({ role: z.string(), values: ArraySchema })),
  /** [frameCount] each. */
  morphs: z.array(z.strictObject({ name: z.string(), weights: ArraySchema })),
  /** For characters of the source's own skeleton: local transforms in the file's units. */
  own: z
    .strictObject({
      signature: z.string(),
      groundMetres: z.number(),
      bones: z.array(
        z.strictObject({
          path: z.string(),
          rotations: OptionalArray,
          translations: OptionalArray,
          scales: OptionalArray,
        }),
      ),
      morphs: z.array(z.strictObject({ nodeIndex: z.int(), count: z.int().nonnegative(), weights: ArraySchema })),
    })
    .nullable(),
});
type MotionFile = z.infer<typeof MotionFileSchema>;

const MAGIC = 'YVM1';
const HEAD_BYTES = 12;
/** Longest JSON that is parsed: that of 20,000 contacts and 10,000 bones is half as long. */
const MOST_JSON_BYTES = 8 * 1024 * 1024;
const padded = (bytes: number): number => Math.ceil(bytes / 8) * 8;

/**
 * A motion as one file: "YVM1", length of the JSON and of the block (32-bit, little-endian, bytes), the JSON padded with
 * blanks to a multiple of 8, then the block. Documented in docs/formats.md; the JSON's schema is docs/yarvo-motion-1.json.
 */
export function encodeMotion(motion: Motion): Uint8Array {
  const arrays: Float32Array[] = [];
  let numbers = 0;
  const keep = (array: Float32Array) => {
    const place = { offset: numbers, length: array.length };
    arrays.push(array);
    numbers += array.length;
    return place;
  };
  const optional = (array: Float32Array | null) => array && keep(array);
  const { rotations, hips, root, shifts, morphs, own, ...head } = motion;
  const file: MotionFile = {
    schema: 'yarvo-motion-1',
    ...head,
    slots: [...head.slots],
    rotations: keep(rotations),
    hips: keep(hips),
    root: root && { places: keep(root.places), rotations: keep(root.rotations) },
    shifts: shifts.map(({ role, values }) => ({ role, values: keep(values) })),
    morphs: morphs.map(({ name, weights }) => ({ name, weights: keep(weights) })),
    own: own && {
      signature: own.signature,
      groundMetres: own.groundMetres,
      bones: own.bones.map((bone) => ({
        path: bone.path,
        rotations: optional(bone.rotations),
        translations: optional(bone.translations),
        scales: optional(bone.scales),
      })),
      morphs: own.morphs.map((morph) => ({ ...morph, weights: keep(morph.weights) })),
    },
  };
  const json = new TextEncoder().encode(JSON.stringify(file));
  const start = padded(HEAD_BYTES + json.length);
  const out = new Uint8Array(start + numbers * 4);
  out.fill(0x20, HEAD_BYTES, start);
  out.set(new TextEncoder().encode(MAGIC));
  const view = new DataView(out.buffer);
  view.setUint32(4, start - HEAD_BYTES, true);
  view.setUint32(8, numbers * 4, true);
  out.set(json, HEAD_BYTES);
  let at = start;
  for (const array of arrays) {
    out.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), at);
    at += array.byteLength;
  }
  return out;
}

/** @throws {YarvoError} `bad-motion-file` naming what is wrong and where. */
export function decodeMotion(bytes: Uint8Array, place = 'motion file'): Motion {
  const bad = (message: string, where = place) =>
    new YarvoError({
      code: 'bad-motion-file',
      message,
      place: where,
      remedy: 'Export the motion again; this file is damaged, or is none.',
    });
  if (bytes.length < HEAD_BYTES || new TextDecoder().decode(bytes.subarray(0, 4)) !== MAGIC)
    throw bad('The file does not start as a motion file does.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [jsonBytes, blockBytes] = [view.getUint32(4, true), view.getUint32(8, true)];
  if (HEAD_BYTES + jsonBytes + blockBytes > bytes.length) throw bad('The file is cut short.');
  if (jsonBytes > MOST_JSON_BYTES)
    throw bad(
      `Its JSON has ${Math.ceil(jsonBytes / 1024 / 1024)} MB; ${MOST_JSON_BYTES / 1024 / 1024} MB is the limit.`,
      `${place}, JSON`,
    );
  const file = MotionFileSchema.safeParse(jsonOf(bytes.subarray(HEAD_BYTES, HEAD_BYTES + jsonBytes)));
  if (!file.success) {
    const [issue] = file.error.issues;
    throw bad(`${issue.message} at ${issue.path.join('.') || 'its top'}.`, `${place}, JSON`);
  }
  // A copy, since the block may lie at any offset of a larger buffer.
  const block = bytes.slice(HEAD_BYTES + jsonBytes, HEAD_BYTES + jsonBytes + blockBytes);
  const all = new Float32Array(block.buffer, 0, Math.floor(blockBytes / 4));
  const { schema: _schema, ...data } = file.data;
  const { frameCount, slots } = data;
  const array = ({ offset, length }: { offset: number; length: number }, perFrame: number, name: string) => {
    if (length !== frameCount * perFrame || offset + length > all.length)
      throw bad(
        `"${name}" has ${length} numbers; ${frameCount} frames need ${frameCount * perFrame}.`,
        `${place}, ${name}`,
      );
    const values = all.subarray(offset, offset + length);
    const wrong = values.findIndex((value) => !Number.isFinite(value));
    if (wrong >= 0)
      throw bad(
        `"${name}" holds a value that is no number.`,
        `${place}, ${name}, frame ${Math.floor(wrong / perFrame)}`,
      );
    return values;
  };
  const optional = (held: { offset: number; length: number } | null, perFrame: number, name: string) =>
    held && array(held, perFrame, name);
  return {
    ...data,
    rotations: array(data.rotations, slots.length * 4, 'rotations'),
    hips: array(data.hips, 3, 'hips'),
    root: data.root && {
      places: array(data.root.places, 3, 'root.places'),
      rotations: array(data.root.rotations, 4, 'root.rotations'),
    },
    shifts: data.shifts.map(({ role, values }) => ({ role, values: array(values, 3, `shifts of ${role}`) })),
    morphs: data.morphs.map(({ name, weights }) => ({ name, weights: array(weights, 1, `morph ${name}`) })),
    own: data.own && {
      ...data.own,
      bones: data.own.bones.map(({ path, rotations, translations, scales }) => ({
        path,
        rotations: optional(rotations, 4, `rotations of ${path}`),
        translations: optional(translations, 3, `translations of ${path}`),
        scales: optional(scales, 3, `scales of ${path}`),
      })),
      morphs: data.own.morphs.map((morph) => ({
        ...morph,
        weights: array(morph.weights, morph.count, `morphs of node ${morph.nodeIndex}`),
      })),
    },
  };
}

function jsonOf(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(bytes)) as unknown;
  } catch {
    return undefined;
  }
}
