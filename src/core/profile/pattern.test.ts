import { describe, expect, it } from 'vitest';
import { patternOf } from './pattern';

const test = (pattern: string, text: string): boolean => {
  const outcome = patternOf(pattern);
  if (!outcome.ok) throw new Error(outcome.why);
  return outcome.pattern.test(text);
};

describe('a pattern that a person wrote', () => {
  it('says what the usual engine says, for patterns that both know', () => {
    const patterns = [
      '^[A-Za-z_][A-Za-z0-9_]*$',
      '^\\p{L}+$',
      '^gt_\\w{1,8}$',
      '^(?:[a-z]+_)*[a-z]+$',
      '.*',
      '^[^ .]+$',
      '',
    ];
    const names = ['hips', 'gt_hips', '_', '9lives', 'laterne größe', 'é', 'a.b', '', 'left_arm_twist', 'gt_123456789'];
    for (const pattern of patterns)
      for (const name of names)
        expect(test(pattern, name), `${pattern} on ${name}`).toBe(new RegExp(pattern, 'u').test(name));
  });

  it('that makes a backtracking engine take longer than the world lasts is answered', () => {
    for (const pattern of ['^(a+)+$', '^(a|a)*$', '^(a|aa)+$', '^([a-z]+)*[a-z]+$'])
      expect(test(pattern, `${'a'.repeat(5_000)}!`)).toBe(false);
  });

  it('is refused in words where no automaton can run it, where it is too long, and where it repeats without measure', () => {
    for (const pattern of ['(?=a)b', '(a)\\1', '([', '((a{100}){100}){100}', 'a'.repeat(201)]) {
      const outcome = patternOf(pattern);
      expect(outcome.ok, pattern).toBe(false);
      if (!outcome.ok) expect(outcome.why).toMatch(/no pattern|longer than/);
    }
  });
});
