import type { Vec3 } from '@/core/math/vec3';
import type { DraftMaterial } from '../scene/scene-draft';
import type { TextureShelf } from '../scene/texture-shelf';
import { childNamed, textOf } from './fbx-tree';
import type { FbxObject, FbxObjects } from './objects';

/** Exporters put their own program's name and a bar before some of these. */
const COLOUR_SLOTS = /(^|\|)(DiffuseColor|baseColor|base_color_map)$/;
const NORMAL_SLOTS = /(^|\|)(NormalMap|Bump|normalCamera)$/;
const EMISSIVE_SLOTS = /(^|\|)(EmissiveColor|emissionColor)$/;

/** sRGB -> linear. Source: IEC 61966-2-1. */
const linear = (value: number): number => (value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4);

export function readMaterial(objects: FbxObjects, object: FbxObject, shelf: TextureShelf): DraftMaterial {
  const { properties } = object;
  const slot = (names: RegExp, purpose: string) => {
    const link = objects.childrenOf(object, 'Texture').find(({ property }) => names.test(property));
    return link ? placeTexture(objects, link.object, shelf, purpose) : -1;
  };
  const colourTexture = slot(COLOUR_SLOTS, 'colour');
  const diffuse = properties.vector('DiffuseColor', properties.vector('Diffuse', [0.8, 0.8, 0.8]));
  const factor = properties.number('DiffuseFactor', 1);
  const opacity = properties.number(
    'Opacity',
    1 -
      properties.number('TransparencyFactor', 0) *
        Math.max(...properties.vector('TransparentColor', [0, 0, 0] as Vec3)),
  );
  const colour =
    colourTexture >= 0 ? [1, 1, 1] : diffuse.map((value) => linear(Math.min(1, Math.max(0, value * factor))));
  return {
    name: object.name,
    colour: [colour[0], colour[1], colour[2], Math.min(1, Math.max(0, opacity))],
    colourTexture,
    normalTexture: slot(NORMAL_SLOTS, 'normal'),
    emissiveTexture: slot(EMISSIVE_SLOTS, 'glow'),
    isDoubleSided: true,
  };
}

/** The picture of a texture: embedded in the file, or named by it. */
function placeTexture(objects: FbxObjects, texture: FbxObject, shelf: TextureShelf, purpose: string): number {
  const video = objects.childrenOf(texture, 'Video')[0]?.object;
  const content = video && childNamed(video.node, 'Content');
  const embedded = content ? contentBytes(content.values) : null;
  const named = [texture, video].flatMap((object) =>
    object
      ? ['RelativeFilename', 'FileName', 'Filename'].map((name) => textOf(childNamed(object.node, name)?.values[0]))
      : [],
  );
  const name = named.find(Boolean) ?? texture.name;
  return shelf.place(name, embedded, purpose);
}

/** Binary files hold the bytes, text files base64, broken into pieces. */
function contentBytes(values: readonly unknown[]): Uint8Array | null {
  if (values[0] instanceof Uint8Array) return values[0].length > 0 ? values[0] : null;
  const text = values.filter((value): value is string => typeof value === 'string').join('');
  if (text.length < 16) return null;
  return new Uint8Array(Buffer.from(text, 'base64'));
}
