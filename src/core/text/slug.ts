/** "Eel seller" -> "eel-seller": safe in a path on every system. */
export const slugOf = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase() || 'character';
