import { RE2JS } from 're2js';

/** Longest pattern that is taken, characters. */
const LONGEST_PATTERN = 200;
const MOST_KNOWN = 16;

/** A pattern that a person wrote, ready to be held against names. */
interface Pattern {
  /** Whether it is found in a text; in time linear in the length of the text, whatever the pattern. */
  readonly test: (text: string) => boolean;
}

export type PatternOutcome =
  | { readonly ok: true; readonly pattern: Pattern }
  /** `why` goes on after "is". */
  | { readonly ok: false; readonly why: string };

const known = new Map<string, PatternOutcome>();

/**
 * A regular expression that a person wrote. It is run by an automaton, not by the language's own backtracking engine:
 * no text and no pattern make it take more than linear time. What an automaton cannot do is refused: looking ahead or
 * behind, and references to groups.
 * Source: Cox 2007, "Regular Expression Matching Can Be Simple And Fast"; the syntax is RE2's.
 */
export function patternOf(text: string): PatternOutcome {
  const there = known.get(text);
  if (there) return there;
  const made = compile(text);
  known.set(text, made);
  if (known.size > MOST_KNOWN) known.delete(known.keys().next().value as string);
  return made;
}

function compile(text: string): PatternOutcome {
  if (text.length > LONGEST_PATTERN)
    return { ok: false, why: `longer than the ${LONGEST_PATTERN} characters that a pattern may have` };
  try {
    const compiled = RE2JS.compile(text);
    return { ok: true, pattern: { test: (name) => compiled.matcher(name).find() } };
  } catch (error) {
    const said = error instanceof Error ? error.message.replace(/^error parsing regexp: /, '') : '';
    return {
      ok: false,
      why: `no pattern that Yarvo can run (${said.slice(0, 120)}); looking ahead or behind and references to groups are not possible`,
    };
  }
}
