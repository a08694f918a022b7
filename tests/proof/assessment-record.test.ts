import { createHash } from 'node:crypto';
import { expect, it } from 'vitest';
import { ASSESSMENT_VERSION } from '@/pipeline/versions';
import { assessFit } from '@/pipeline/judge';
import { runFirstPass } from '@/pipeline/match';
import { QUAY } from '@/core/definition/quay';
import { initialFit } from '@/core/fit/fit';
import { TIDEWATER } from '@/core/profile/shipped';
import { readSource } from '@/pipeline/read-files';
import { CAST } from '../../demo/cast/cast';

/** Findings of the whole cast as this version of the checks gives them. */
const RECORDED = { version: 9, hash: 'b7bbec0bb2845f0f' };

/** Kept counts are derived again only when the version rises; forgetting it would leave old ones standing. */
it('the version of the assessment is raised whenever it finds something else in the cast', async () => {
  const hash = createHash('sha256');
  for (const [path, { make }] of Object.entries(CAST)) {
    const main = { path, bytes: await make() };
    const { rig } = await readSource(main, [main]);
    const first = runFirstPass(rig, QUAY);
    const fit = initialFit(first.match, QUAY);
    const { findings } = assessFit({ rig, ...first, fit, definition: QUAY, profile: TIDEWATER });
    hash.update(JSON.stringify([path, findings.map(({ severity, sentence }) => [severity, sentence])]));
  }
  const found = { version: ASSESSMENT_VERSION, hash: hash.digest('hex').slice(0, 16) };
  expect(found, 'the findings changed: raise ASSESSMENT_VERSION, and record the new hash here with it').toEqual(
    RECORDED,
  );
});
