import type { CheckLine } from '@/contract/check-line';

/** What a person reads in a terminal. */
export function textOf({ file, profile, findings, waived = [], repaired, error }: CheckLine): string {
  if (error) return `${file}: ${error.message} (${error.place}) ${error.remedy}\n`;
  const counts = (['blocker', 'caution', 'note'] as const)
    .map((severity) => ({ severity, count: findings.filter((finding) => finding.severity === severity).length }))
    .filter(({ count }) => count > 0)
    .map(({ severity, count }) => `${count} ${severity}${count === 1 ? '' : 's'}`);
  const head = `${file} for ${profile}: ${counts.length > 0 ? counts.join(', ') : 'nothing found'}`;
  return [
    head,
    ...findings.map(({ severity, sentence }) => `  ${severity}: ${sentence}`),
    ...waived.map(({ key, reason, author }) => `  waived by ${author}: ${key} (${reason})`),
    ...(repaired ? [`  repaired: ${repaired.repairs.join(', ') || 'nothing'}; written to ${repaired.written}`] : []),
    '',
  ].join('\n');
}
