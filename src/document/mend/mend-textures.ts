import type { Document } from '@gltf-transform/core';
import sharp from 'sharp';
import type { Mending } from '@/core/intake/mending';
import { imageSize } from '@/core/rig/image-facts';

/** Nearest power of two by ratio, at least 1. */
const nearestPower = (value: number): number => 2 ** Math.max(0, Math.round(Math.log2(value)));

/** Scales pictures to sides that are allowed; each keeps its format. What is no PNG or JPEG stays as it is. */
export async function resizeTextures(
  document: Document,
  { largest, isPowerOfTwo }: NonNullable<Mending['textures']>,
): Promise<void> {
  for (const texture of document.getRoot().listTextures()) {
    const bytes = texture.getImage();
    const { width, height } = bytes ? imageSize(bytes) : { width: 0, height: 0 };
    if (!bytes || width === 0 || height === 0) continue;
    const share = largest === null ? 1 : Math.min(1, largest / Math.max(width, height));
    const fitted = (side: number): number => {
      const size = Math.max(1, Math.round(side * share));
      if (!isPowerOfTwo) return size;
      const power = nearestPower(size);
      return largest !== null && power > largest ? power / 2 : power;
    };
    const [w, h] = [fitted(width), fitted(height)];
    if (w === width && h === height) continue;
    const picture = sharp(bytes).resize(w, h, { fit: 'fill' });
    const made = texture.getMimeType() === 'image/jpeg' ? picture.jpeg({ quality: 92 }) : picture.png();
    texture.setImage(new Uint8Array(await made.toBuffer()));
  }
}
