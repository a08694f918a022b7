/** What an image file is, by its first bytes; null for none of the kinds that textures come in. */
export function imageType(bytes: Uint8Array): string | null {
  const starts = (...values: number[]) => values.every((value, at) => bytes[at] === value);
  if (starts(0x89, 0x50, 0x4e, 0x47)) return 'image/png';
  if (starts(0xff, 0xd8, 0xff)) return 'image/jpeg';
  if (starts(0x52, 0x49, 0x46, 0x46) && bytes[8] === 0x57 && bytes[9] === 0x45) return 'image/webp';
  if (starts(0xab, 0x4b, 0x54, 0x58, 0x20, 0x32, 0x30)) return 'image/ktx2';
  return null;
}

/** Size in pixels from the header of a PNG or JPEG; 0 x 0 where it cannot be told. */
export function imageSize(bytes: Uint8Array): { width: number; height: number } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const type = imageType(bytes);
  if (type === 'image/png' && bytes.length >= 24) return { width: view.getUint32(16), height: view.getUint32(20) };
  if (type === 'image/jpeg') {
    for (let at = 2; at + 9 < bytes.length && bytes[at] === 0xff; at += 2 + view.getUint16(at + 2)) {
      const marker = bytes[at + 1];
      const isFrame = marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc;
      if (isFrame) return { width: view.getUint16(at + 7), height: view.getUint16(at + 5) };
    }
  }
  return { width: 0, height: 0 };
}
