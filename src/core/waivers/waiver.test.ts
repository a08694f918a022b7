import { describe, expect, it } from 'vitest';
import { sortWaived, WaiverFileSchema, type Waiver } from './waiver';

const waiver = (change: Partial<Waiver>): Waiver => ({
  character: null,
  finding: null,
  check: null,
  reason: 'agreed with the engine team',
  author: 'Maren Tideway',
  date: '2026-11-02',
  until: null,
  measured: null,
  ...change,
});
const finding = (measured: number, key = 'influences/vertex coat') => ({
  key,
  check: key.split('/')[0],
  amount: { measured, allowed: 4 },
});
const states = (found: ReturnType<typeof finding>, given: Waiver, day = '2026-11-28', names: string[] = []) => {
  const { open, waived, reopened } = sortWaived([found], [given], names, day);
  return [open.length, waived.length, reopened.length];
};

describe('a waiver', () => {
  it('holds for its finding or for all of its check, and for nothing else', () => {
    expect(states(finding(6), waiver({ finding: 'influences/vertex coat' }))).toEqual([0, 1, 0]);
    expect(states(finding(6), waiver({ check: 'influences' }))).toEqual([0, 1, 0]);
    expect(states(finding(6), waiver({ finding: 'influences/vertex hat' }))).toEqual([1, 0, 0]);
  });

  it('holds to its last day, and not a day longer', () => {
    const given = waiver({ check: 'influences', until: '2026-11-28' });
    expect(states(finding(6), given, '2026-11-28')).toEqual([0, 1, 0]);
    expect(states(finding(6), given, '2026-11-29')).toEqual([1, 0, 1]);
  });

  it('is open again where what was measured gets worse, on either side of what is allowed', () => {
    const given = waiver({ check: 'influences', measured: 6 });
    expect(states(finding(6), given)).toEqual([0, 1, 0]);
    expect(states(finding(5), given)).toEqual([0, 1, 0]);
    expect(states(finding(7), given)).toEqual([1, 0, 1]);
    expect(states(finding(1), given)).toEqual([1, 0, 1]);
  });

  it('for one character holds for no other', () => {
    const given = waiver({ check: 'influences', character: 'eel-seller' });
    expect(states(finding(6), given, '2026-11-28', ['eel-seller'])).toEqual([0, 1, 0]);
    expect(states(finding(6), given, '2026-11-28', ['net-mender'])).toEqual([1, 0, 0]);
  });
});

it('a file of waivers names all that is wrong with it', () => {
  const file = { schema: 'yarvo-waivers-1', waivers: [{ reason: 'x', author: 'Odo', date: 'today', colour: 'blue' }] };
  const said = WaiverFileSchema.safeParse(file).error?.issues.map(
    ({ path, message }) => `${path.join('.')} ${message}`,
  );
  expect(said?.join('\n')).toMatch(/reason/);
  expect(said?.join('\n')).toMatch(/date/);
  expect(said?.join('\n')).toMatch(/colour/);
});
