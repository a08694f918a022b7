import { describe, expect, it } from 'vitest';
import type { CheckRow } from '@/contract/studio';
import { columnsOf, csvOf, sortedRows, type CheckCell } from './check-grid';

const cell = (
  check: string,
  severity: CheckCell['severity'],
  repairs: CheckCell['repairs'] = [],
  count = 1,
): CheckCell => ({
  check,
  severity,
  count,
  sentence: `${check} is off`,
  repairs,
});
const row = (name: string, cells: CheckCell[]): CheckRow => ({
  id: name,
  name,
  revision: 0,
  profile: 'tidewater',
  cells,
  waived: 0,
  refused: null,
});
const ROWS = [
  row('Otter', [cell('root-bone', 'caution'), cell('doubts', 'note')]),
  row('Eel seller', [cell('reference-pose', 'blocker', ['align-posture']), cell('root-bone', 'caution', ['add-root'])]),
  row('Diver', [cell('reference-pose', 'blocker', ['align-posture']), cell('root-bone', 'caution', ['add-root'])]),
];

describe('the board of checks', () => {
  it('has the commonest check first, with the repair that most are offered', () => {
    const columns = columnsOf(ROWS);
    expect(columns.map(({ check }) => check)).toEqual(['root-bone', 'reference-pose', 'doubts']);
    expect(columns[0]).toMatchObject({
      found: { caution: 3 },
      repair: 'add-root',
      repairable: ['Eel seller', 'Diver'],
    });
    expect(columns[2].repair).toBeNull();
  });

  it('has who is worst off first, and the same order each time', () => {
    expect(sortedRows(ROWS).map(({ name }) => name)).toEqual(['Diver', 'Eel seller', 'Otter']);
    expect(sortedRows([...ROWS].reverse())).toEqual(sortedRows(ROWS));
  });

  it('is written for a spreadsheet without letting a name become a formula', () => {
    const text = csvOf([row('=HYPERLINK("x")', [cell('doubts', 'note')])]);
    expect(text.split('\r\n')[1]).toBe('"\'=HYPERLINK(""x"")","tidewater","doubts","note","1","doubts is off",""');
  });
});
