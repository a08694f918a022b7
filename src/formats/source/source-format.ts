import { YarvoError } from '@/core/errors/yarvo-error';
import type { SourceFormat } from '@/core/rig/source-facts';
import { isBinaryFbx, looksBinaryFbx } from '../fbx/read-binary';
import { isGlb } from '../gltf/glb-container';
import { lastPart } from '../files/companions';

const endingOf = (path: string): string => /\.([A-Za-z0-9]{1,8})$/.exec(lastPart(path))?.[1].toLowerCase() ?? '';
export const isZip = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && (bytes[2] === 3 || bytes[2] === 5);

/**
 * What a file is, by its content before its name.
 * @throws {YarvoError} `not-a-model` for anything that is none of the formats read.
 */
export function formatOf(bytes: Uint8Array, path: string): Exclude<SourceFormat, 'vrm'> {
  if (bytes.length === 0)
    throw new YarvoError({
      code: 'empty-file',
      message: 'The file is empty.',
      place: path,
      remedy: 'Export it again; the upload arrived with 0 bytes.',
    });
  if (isGlb(bytes)) return 'glb';
  if (isBinaryFbx(bytes)) return 'fbx';
  if (looksBinaryFbx(bytes))
    throw new YarvoError({
      code: 'altered-binary',
      message: 'This is a binary FBX whose bytes were altered on the way, as when it is copied or committed as text.',
      place: `${path}, byte 18`,
      remedy: 'Copy the file again as binary.',
    });
  const head = headText(bytes);
  if (/^\s*HIERARCHY\b/i.test(head)) return 'bvh';
  if (/<COLLADA[\s>]/.test(head)) return 'collada';
  if (/^\s*\{/.test(head) && endingOf(path) !== 'fbx') return 'gltf';
  if (/^\s*;|FBXHeaderExtension/.test(head) && endingOf(path) === 'fbx') return 'fbx';
  const wanted = {
    glb: 'it does not start with "glTF"',
    vrm: 'it does not start with "glTF"',
    gltf: 'it is no JSON object',
    fbx: 'it has no FBX header',
    dae: 'it has no <COLLADA> element',
    bvh: 'it does not start with HIERARCHY',
  }[endingOf(path)];
  throw new YarvoError({
    code: 'not-a-model',
    message: wanted
      ? `The name says ${endingOf(path)}, but ${wanted}.`
      : 'This is none of the formats that are read: glTF, GLB, VRM, FBX, COLLADA, BVH, or a zip of them.',
    place: `${path}, byte 0`,
    remedy: 'Export as binary glTF 2.0 (.glb) or FBX 7.4 and drop that file.',
  });
}

function headText(bytes: Uint8Array): string {
  const mark =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : 'utf-8';
  return new TextDecoder(mark).decode(bytes.subarray(0, 4096));
}
