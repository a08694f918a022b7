import { z } from 'zod';
import { LEFT_WORDS, MODIFIERS, RIGHT_WORDS, SHIPPED_WORDS, SIDE_LETTER_PAIRS } from './words';

const MeaningSchema = z.record(z.string(), z.number().min(0).max(1));
const WordListSchema = z.strictObject({
  language: z.string(),
  entries: z.array(z.tuple([z.string(), MeaningSchema])),
});

/** Naming habits as they are kept in the library: word lists per language, modifiers and side marks. */
export const DialectDataSchema = z.strictObject({
  id: z.string(),
  label: z.string(),
  version: z.int().positive(),
  lists: z.array(WordListSchema),
  modifiers: z.record(z.string(), z.enum(['upper', 'lower'])),
  left: z.array(z.string()),
  right: z.array(z.string()),
  /** Single letters that mark left and right where both occur. */
  letterPairs: z.array(z.tuple([z.string(), z.string()])),
});
export type DialectData = z.infer<typeof DialectDataSchema>;

/** All shipped languages together. */
export const SHIPPED_DIALECT: DialectData = DialectDataSchema.parse({
  id: 'shipped',
  label: 'Shipped word lists',
  version: 2,
  lists: SHIPPED_WORDS,
  modifiers: MODIFIERS,
  left: LEFT_WORDS,
  right: RIGHT_WORDS,
  letterPairs: SIDE_LETTER_PAIRS,
});
