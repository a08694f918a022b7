import { z } from 'zod';
import type { Normalisation } from './normalise';

/** How a figure gets its size. */
export const SizeChangeSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('height'), metres: z.number().min(0.01).max(1_000) }),
  z.strictObject({ kind: z.literal('factor'), factor: z.number().min(0.001).max(1_000) }),
  z.strictObject({ kind: z.literal('unit'), unitMetres: z.number().min(1e-5).max(1e5) }),
]);
export type SizeChange = z.infer<typeof SizeChangeSchema>;

/** Metres per unit of the file by which a figure gets its size; null for one without height. */
export function unitFor(
  size: SizeChange,
  { heightFile, scale }: Pick<Normalisation, 'heightFile' | 'scale'>,
): number | null {
  switch (size.kind) {
    case 'unit':
      return size.unitMetres;
    case 'factor':
      return scale * size.factor;
    case 'height':
      return heightFile > 0 ? size.metres / heightFile : null;
    default:
      return size satisfies never;
  }
}
