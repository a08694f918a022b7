import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { initialFit, type FitState } from '@/core/fit/fit';
import { encodeGeometry } from '@/core/geometry/geometry';
import { NO_DECISIONS, type IntakeDecisions } from '@/core/intake/decisions';
import { NO_MENDING } from '@/core/intake/mending';
import { TIDEWATER } from '@/core/profile/shipped';
import { readGeometry } from '@/document/read-geometry';
import { runFirstPass } from '@/pipeline/match';
import { interpret } from '@/pipeline/read';
import { readGlb } from '@/pipeline/read-files';
import { repairMovement, type MovementSide } from '@/pipeline/repair-movement';
import { readCast } from '../helpers/cast-files';

/** A character read under some decisions. */
async function sideOf(name: string, change: Partial<IntakeDecisions>, fitted?: FitState): Promise<MovementSide> {
  const decisions = { ...NO_DECISIONS, ...change };
  const bytes = (await readCast(name)).glb;
  const { glb } = await interpret({ files: [{ path: name, bytes }], main: name, decisions });
  const { rig, document } = await readGlb(glb, name);
  const first = runFirstPass(rig, QUAY, {}, decisions);
  const fit = fitted ? { ...fitted, intake: decisions } : initialFit(first.match, QUAY, decisions);
  return { rig, ...first, fit, geometry: encodeGeometry(readGeometry(document, rig, name)) };
}

const moved = (before: MovementSide, after: MovementSide) =>
  repairMovement({ before, after, definition: QUAY, profile: TIDEWATER });

describe('how far a repair moves vertices', () => {
  it('is nothing where nothing changes', async () => {
    const side = await sideOf('eel-seller.glb', {});
    const found = moved(side, side);
    expect(found?.rest).toEqual({ metres: 0, part: '', left: [] });
    expect(found?.inMotion?.metres).toBe(0);
  });

  it('fewer influences leave the rest alone, and show in motion by how much they err', async () => {
    const before = await sideOf('eel-seller.glb', {});
    const after = await sideOf('eel-seller.glb', { mending: { ...NO_MENDING, influences: 1 } });
    const found = moved(before, after);
    expect(found?.rest.metres).toBeLessThan(1e-5);
    expect(found?.inMotion?.metres).toBeGreaterThan(0.002);
    expect(found?.inMotion?.metres).toBeLessThan(0.5);
  });

  it('another size is told in full: a figure twice as tall moves its crown by its height', async () => {
    const before = await sideOf('eel-seller.glb', {});
    const { scale, heightMetres } = before.normalisation;
    const after = await sideOf('eel-seller.glb', { unitMetres: scale * 2 });
    const far = moved(before, after)?.rest.metres ?? 0;
    expect(far).toBeGreaterThan(heightMetres * 0.98);
    expect(far).toBeLessThan(heightMetres * 1.3);
  });
});
