import { createHash } from 'node:crypto';
import { expect, it } from 'vitest';
import { QUAY, QUAY_A45 } from '@/core/definition/quay';
import { SHIPPED_DIALECT } from '@/core/dialect/dialect-data';
import { SHIPPED_PROFILES } from '@/core/profile/shipped';

/** What ships, by version. A library that has a version keeps it as it is: a change without a new version reaches nobody. */
const RECORD: Readonly<Record<string, string>> = {
  'quay@3': 'd79cd5b22aa726e0',
  'quay-a45@2': '402a3fc0cea8eb68',
  'tidewater@3': '73c41547e884b0e7',
  'ebb@1': '2d1b004215140748',
  'shipped@2': '3e0a6a4ed4a9fc0e',
};

it('what ships in the library changes only together with its version', () => {
  const shipped = Object.fromEntries(
    [QUAY, QUAY_A45, ...SHIPPED_PROFILES, SHIPPED_DIALECT].map((value) => [
      `${value.id}@${value.version}`,
      createHash('sha256').update(JSON.stringify(value)).digest('hex').slice(0, 16),
    ]),
  );
  expect(shipped).toEqual(RECORD);
});
