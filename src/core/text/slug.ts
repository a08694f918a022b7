/** Names that some systems keep for devices, whatever their ending. */
const RESERVED = /^(?:con|prn|aux|nul|com[0-9]|lpt[0-9])$/i;

/** Whether a file or folder cannot be called so on every system. */
export const isReservedFileName = (part: string): boolean => RESERVED.test(part.split('.')[0].trim());

/** "Eel seller" -> "eel-seller": safe in a path on every system. */
export function slugOf(name: string): string {
  const slug =
    name
      .normalize('NFKD')
      .replace(/[^A-Za-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase() || 'character';
  return isReservedFileName(slug) ? `${slug}-1` : slug;
}
