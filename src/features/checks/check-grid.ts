import type { CheckRow } from '@/contract/studio';
import { SEVERITIES, type Severity } from '@/core/checks/finding';
import type { RepairKind } from '@/core/repairs/repair-kinds';

export type CheckCell = CheckRow['cells'][number];

/** A column of the board: a check, and on how many characters it found what. */
export interface CheckColumn {
  readonly check: string;
  readonly found: Readonly<Record<Severity, number>>;
  /** The repair that most of its characters are offered; null where none is. */
  readonly repair: RepairKind | null;
  /** Characters that are offered it. */
  readonly repairable: readonly string[];
}

/** Columns by how many characters they concern: blockers and cautions first, then all. */
export function columnsOf(rows: readonly CheckRow[]): CheckColumn[] {
  const byCheck = new Map<string, { id: string; cell: CheckCell }[]>();
  for (const { id, cells } of rows)
    for (const cell of cells) byCheck.set(cell.check, [...(byCheck.get(cell.check) ?? []), { id, cell }]);
  const columns = [...byCheck].map(([check, found]): CheckColumn => {
    const counts = new Map<RepairKind, string[]>();
    for (const { id, cell } of found)
      for (const kind of cell.repairs) counts.set(kind, [...(counts.get(kind) ?? []), id]);
    const [best] = [...counts].sort(([, a], [, b]) => b.length - a.length);
    const of = (severity: Severity): number => found.filter(({ cell }) => cell.severity === severity).length;
    return {
      check,
      found: { blocker: of('blocker'), caution: of('caution'), note: of('note') },
      repair: best?.[0] ?? null,
      repairable: best?.[1] ?? [],
    };
  });
  const weight = ({ found }: CheckColumn): number => (found.blocker + found.caution) * 1000 + found.note;
  return columns.sort((a, b) => weight(b) - weight(a) || a.check.localeCompare(b.check, 'en'));
}

/** Characters with the worst findings first. */
export function sortedRows(rows: readonly CheckRow[]): CheckRow[] {
  const weight = ({ cells }: CheckRow): number =>
    cells.reduce((sum, { severity, count }) => sum + count * 100 ** (2 - SEVERITIES.indexOf(severity)), 0);
  return [...rows].sort((a, b) => weight(b) - weight(a) || a.name.localeCompare(b.name, 'en'));
}

/** What a spreadsheet takes: a line for each finding. A cell that would be read as a formula is led by an apostrophe. */
export function csvOf(rows: readonly CheckRow[]): string {
  const quoted = (value: string | number): string => {
    const text = String(value);
    return `"${(/^[=+\-@\t\r]/.test(text) ? `'${text}` : text).replaceAll('"', '""')}"`;
  };
  const lines = rows.flatMap(({ name, profile, cells, refused }) =>
    refused !== null
      ? [[name, profile, '', 'refused', 1, refused, '']]
      : cells.map(({ check, severity, count, sentence, repairs }) => [
          name,
          profile,
          check,
          severity,
          count,
          sentence,
          repairs.join(' '),
        ]),
  );
  const head = ['character', 'profile', 'check', 'severity', 'count', 'first', 'repairs'];
  return [head, ...lines].map((line) => line.map(quoted).join(',')).join('\r\n') + '\r\n';
}
