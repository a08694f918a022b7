import type { CheckLine } from '@/contract/check-line';

/** Text as XML 1.0 takes it: what it has no place for is left out. */
const escaped = (text: string): string =>
  text
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '')
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;');

/** A suite for each file, a case for each finding; blockers and cautions fail, notes pass. JUnit's XML as build servers read it. */
export function junitOf(lines: readonly CheckLine[]): string {
  const suites = lines.map(({ file, profile, findings, error }) => {
    const cases = findings.map(
      ({ key, check, severity, sentence, measured, allowed, unit }) =>
        `    <testcase classname="${escaped(check)}" name="${escaped(key)}" time="0">${
          severity === 'note'
            ? `<system-out>${escaped(sentence)}</system-out>`
            : `<failure type="${severity}" message="${escaped(sentence)}">${escaped(`measured ${measured}, allowed ${allowed} ${unit}`.trim())}</failure>`
        }</testcase>`,
    );
    if (error)
      cases.push(
        `    <testcase classname="read" name="${escaped(error.code)}" time="0"><error type="${escaped(error.code)}" message="${escaped(error.message)}">${escaped(error.remedy)}</error></testcase>`,
      );
    if (cases.length === 0) cases.push(`    <testcase classname="checks" name="all checks" time="0"/>`);
    const failures = findings.filter(({ severity }) => severity !== 'note').length;
    return [
      `  <testsuite name="${escaped(`${file} for ${profile}`)}" tests="${cases.length}" failures="${failures}" errors="${error ? 1 : 0}" skipped="0" time="0">`,
      ...cases,
      '  </testsuite>',
    ].join('\n');
  });
  return ['<?xml version="1.0" encoding="UTF-8"?>', '<testsuites>', ...suites, '</testsuites>', ''].join('\n');
}
