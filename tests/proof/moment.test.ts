import { expect, it } from 'vitest';
import { angleOf, conjugate, multiply, type Quat } from '@/core/math/quat';
import { poseAtMoment } from '@/core/rig/moment';
import { motionOf, readSource } from '@/pipeline/read-files';
import { MOTIONS } from '../../demo/motions/motions';

const TICKS = 46_186_158_000;

/** A take that lies ten seconds into its file's own time is posed at its own moments, not past its end. */
it('a take that starts late in its file gives the same poses as one that starts at once', async () => {
  const text = new TextDecoder().decode(await MOTIONS['stall-keeper.fbx'].make());
  const late = text
    .replace(/KeyTime: \*\d+ \{\n\t\t\ta: ([\d,\n]+)/g, (whole, keys: string) =>
      whole.replace(
        keys,
        keys.replace(/\d+/g, (key) => String(Number(key) + 10 * TICKS)),
      ),
    )
    .replace(
      /("LocalSt(?:art|op)", "KTime", "Time", "",)(\d+)/g,
      (_, head: string, at: string) => `${head}${Number(at) + 10 * TICKS}`,
    );
  const [now, then] = await Promise.all(
    [text, late].map((content) => readSource({ path: 'take.fbx', bytes: new TextEncoder().encode(content) }, [])),
  );
  expect(then.rig.clips[0].startSeconds).toBeCloseTo(10, 3);
  for (const seconds of [0, 0.5, 2]) {
    const [a, b] = [now, then].map((reading) => {
      const [clip] = motionOf(reading) ?? [];
      return poseAtMoment(reading.rig, clip, seconds, null);
    });
    expect(Object.keys(a.rotations).length).toBeGreaterThan(5);
    for (const [bone, turn] of Object.entries(a.rotations))
      expect(angleOf(multiply(conjugate(turn as Quat), (b.rotations[bone] ?? [0, 0, 0, 1]) as Quat))).toBeLessThan(
        1e-4,
      );
  }
});
