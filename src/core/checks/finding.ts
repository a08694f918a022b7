import { z } from 'zod';
import type { HandoffPlan } from '../plan/handoff-plan';
import { REPAIR_KINDS } from '../repairs/repair-kinds';
import type { FileFacts } from '../rig/file-facts';

export const SEVERITIES = ['blocker', 'caution', 'note'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** One result of a check: a sentence, what was measured against what is allowed, and what it is about. */
export const FindingSchema = z.strictObject({
  /** Check, aspect and subjects: the same finding has the same key after any other change. */
  key: z.string(),
  check: z.string(),
  severity: z.enum(SEVERITIES),
  sentence: z.string(),
  measured: z.string(),
  allowed: z.string(),
  /** The same as numbers, where there is one that counts. */
  amount: z.strictObject({ measured: z.number(), allowed: z.number(), unit: z.string() }).nullable().default(null),
  /** Why it matters, in one sentence. */
  why: z.string(),
  /** What to do about it. */
  remedy: z.string(),
  boneIndices: z.array(z.int().nonnegative()),
  roles: z.array(z.string()),
  /** Meshes, materials, textures, clips and the like, by name. */
  parts: z.array(z.string()).default([]),
  /** Where it is seen: a motion by its key, and a frame of it. */
  moment: z.strictObject({ motion: z.string(), frame: z.int().nonnegative() }).nullable().default(null),
  /** What would mend it; null where only a person can. */
  repair: z.enum(REPAIR_KINDS).nullable().default(null),
});
export type Finding = z.infer<typeof FindingSchema>;

type Optional = 'amount' | 'parts' | 'repair' | 'moment' | 'boneIndices' | 'roles';

/** A finding as a check gives it; its key is made of what it is about. */
export interface FindingDraft extends Omit<Finding, 'check' | 'key' | Optional>, Partial<Pick<Finding, Optional>> {
  /** Which of the things that the check looks for this is. */
  readonly aspect: string;
}

/** Looks at what would be handed off. Findings are a function of the plan and nothing else. */
export type Check = (plan: HandoffPlan) => FindingDraft[];

export const labelOf = ({ definition }: HandoffPlan, role: string): string =>
  definition.roles.find((candidate) => candidate.id === role)?.label ?? role;

/** "a, b, c and 4 more". */
export function listNames(names: readonly string[], most = 4): string {
  if (names.length <= most)
    return names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}` : (names[0] ?? '');
  return `${names.slice(0, most).join(', ')} and ${names.length - most} more`;
}

export const NO_FACTS: FileFacts = {
  parts: [],
  skins: [],
  clips: [],
  materials: [],
  images: [],
  middle: { at: [0, 0, 0], slack: 0 },
  sides: [],
  seams: [],
  strayRoots: [],
  unseen: [],
};

/** What the file holds beside its bones; nothing where an older reader did not look. */
export const factsOf = ({ rig }: HandoffPlan): FileFacts => rig.facts ?? NO_FACTS;

/** Each name once, in its order. */
export const distinct = (names: readonly string[]): string[] => [...new Set(names)];
