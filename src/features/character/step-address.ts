import type { CharacterView } from '@/contract/character-view';

/** Address of a step of a character; another fit than the one to the studio's own definition is named in it. */
export function stepAddress(
  { id, definition, definitions }: Pick<CharacterView, 'id' | 'definition' | 'definitions'>,
  step: string,
  query: Readonly<Record<string, string | number>> = {},
): string {
  const isOwn = definitions.some((each) => each.isStudios && each.id === definition.id);
  const params = new URLSearchParams(isOwn ? {} : { definition: definition.id });
  for (const [key, value] of Object.entries(query)) params.set(key, String(value));
  const text = params.toString();
  return `/characters/${id}/${step}${text === '' ? '' : `?${text}`}`;
}
