import { z } from 'zod';
const Day = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, 'must be a day, YYYY-MM-DD');

/** Somebody's word that a finding is accepted. */
export const WaiverSchema = z
  .strictObject({
    /** The character by name, or by the name of its file; null for all. */
    character: z.string().min(1).max(300).nullable().default(null),
    /** Key of one finding, or a whole check. */
    finding: z.string().min(1).max(2000).nullable().default(null),
    check: z.string().min(1).max(60).nullable().default(null),
    reason: z.string().trim().min(3).max(2000),
    author: z.string().trim().min(1).max(100),
    date: Day,
    /** Last day on which it holds; null for good. */
    until: Day.nullable().default(null),
    /** What was measured when it was given: where it gets worse the finding is open again. */
    measured: z.number().nullable().default(null),
  })
  .refine(({ finding, check }) => (finding === null) !== (check === null), 'needs either a finding or a check');
export type Waiver = z.infer<typeof WaiverSchema>;

/** A file of waivers, as the headless check takes it; documented in docs/formats.md. */
export const WaiverFileSchema = z.strictObject({
  schema: z.literal('yarvo-waivers-1'),
  waivers: z.array(WaiverSchema).max(10_000),
});

/** What a waiver needs to know of a finding. */
interface Waivable {
  readonly key: string;
  readonly check: string;
  readonly amount: { readonly measured: number; readonly allowed: number } | null;
}

export interface Waived<Finding extends Waivable = Waivable> {
  readonly finding: Finding;
  readonly waiver: Waiver;
}

interface Sorted<Finding extends Waivable> {
  readonly open: readonly Finding[];
  readonly waived: readonly Waived<Finding>[];
  /** Waivers that no longer hold: past their day, or what was measured got worse. */
  readonly reopened: readonly Waived<Finding>[];
}

/** How much worse is no worse: rounding, of the value. */
const SLACK = 1e-6;

/** Which findings are open on a day, and which are waived. @param names those by which waivers may call the character. */
export function sortWaived<Finding extends Waivable>(
  findings: readonly Finding[],
  waivers: readonly Waiver[],
  names: readonly string[],
  day: string,
): Sorted<Finding> {
  const open: Finding[] = [];
  const waived: Waived<Finding>[] = [];
  const reopened: Waived<Finding>[] = [];
  for (const finding of findings) {
    const own = waivers.filter(
      ({ character, finding: key, check }) =>
        (character === null || names.includes(character)) && (key === finding.key || check === finding.check),
    );
    const holding = own.find((waiver) => holds(waiver, finding, day));
    if (holding) waived.push({ finding, waiver: holding });
    else {
      open.push(finding);
      if (own[0]) reopened.push({ finding, waiver: own[0] });
    }
  }
  return { open, waived, reopened };
}

function holds({ until, measured }: Waiver, { amount }: Waivable, day: string): boolean {
  if (until !== null && day > until) return false;
  if (measured === null || !amount) return true;
  const excess = (value: number): number => Math.abs(value - amount.allowed);
  return excess(amount.measured) <= excess(measured) + Math.max(1, Math.abs(measured)) * SLACK;
}
