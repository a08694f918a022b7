import type { CheckLine } from '@/contract/check-line';
import { CHECKS } from '@/core/checks/checks';

const LEVEL = { blocker: 'error', caution: 'warning', note: 'note' } as const;

/** All lines as one log. Source: OASIS SARIF 2.1.0. */
export function sarifOf(lines: readonly CheckLine[]): string {
  const rules = Object.keys(CHECKS);
  const log = {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: { driver: { name: 'Yarvo', rules: rules.map((id) => ({ id })) } },
        invocations: [
          {
            executionSuccessful: lines.every(({ error }) => !error),
            toolExecutionNotifications: lines.flatMap(({ file, error }) =>
              error
                ? [
                    {
                      level: 'error',
                      message: { text: `${error.message} ${error.remedy}` },
                      locations: [placeOf(file)],
                    },
                  ]
                : [],
            ),
          },
        ],
        results: lines.flatMap(({ file, findings }) =>
          findings.map(({ key, check, severity, sentence, bones, parts }) => ({
            ruleId: check,
            ruleIndex: rules.indexOf(check),
            level: LEVEL[severity],
            message: { text: sentence },
            locations: [
              {
                ...placeOf(file),
                logicalLocations: [...bones, ...parts].slice(0, 50).map((name) => ({ name: name || 'unnamed' })),
              },
            ],
            partialFingerprints: { 'yarvoFinding/v1': key },
          })),
        ),
      },
    ],
  };
  return `${JSON.stringify(log, null, 2)}\n`;
}

const placeOf = (file: string) => ({
  physicalLocation: { artifactLocation: { uri: file.split('/').map(encodeURIComponent).join('/') } },
});
