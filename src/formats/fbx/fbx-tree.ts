import { YarvoError } from '@/core/errors/yarvo-error';

export type FbxArray = Float64Array | Float32Array | Int32Array | readonly number[];
export type FbxValue = number | bigint | string | boolean | Uint8Array | FbxArray;

/** One record of an FBX file, from either encoding. */
export interface FbxNode {
  readonly name: string;
  readonly values: readonly FbxValue[];
  readonly children: readonly FbxNode[];
  /** Where it stands: "byte 1234" or "line 56". */
  readonly place: string;
}

export interface FbxFile {
  readonly version: number;
  readonly encoding: 'binary' | 'ASCII';
  readonly roots: readonly FbxNode[];
}

/** No character needs more; a file that claims more is refused before it is believed. */
export const FBX_LIMITS = { depth: 64, nodes: 2_000_000, arrayBytes: 1024 * 1024 * 1024 } as const;

export const fbxError = (
  code: string,
  message: string,
  place: string,
  remedy = 'Export the file again; this part of it is damaged.',
): YarvoError => new YarvoError({ code, message, place, remedy });

export const childNamed = (node: FbxNode | undefined, name: string): FbxNode | undefined =>
  node?.children.find((child) => child.name === name);

/** Numbers of an array record ("Vertices", "KeyTime" ...); an empty list where it is absent. */
export function numbersOf(node: FbxNode | undefined): FbxArray {
  const value = node?.values[0];
  if (value === undefined) return [];
  if (isNumbers(value)) return value;
  return (node as FbxNode).values.map(Number);
}

const isNumbers = (value: FbxValue): value is FbxArray =>
  Array.isArray(value) || (ArrayBuffer.isView(value) && !(value instanceof Uint8Array));

export const textOf = (value: FbxValue | undefined): string => (typeof value === 'string' ? value : '');

/** Object ids may exceed what a double holds, so they are compared as text. */
export const idOf = (value: FbxValue | undefined): string =>
  typeof value === 'number' || typeof value === 'bigint' || typeof value === 'string' ? String(value) : '';
