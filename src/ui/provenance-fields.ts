import type { Provenance } from '@/core/rig/source-facts';

/** Fields of a character's provenance with their labels, in the order they are shown. */
export const PROVENANCE_FIELDS: readonly (readonly [field: keyof Provenance, label: string])[] = [
  ['source', 'Source'],
  ['author', 'Author'],
  ['licence', 'Licence'],
  ['attribution', 'Attribution'],
];
