import type { FrameSource } from '../motion/carry-frames';
import { fromAxisAngle, multiply } from '../math/quat';
import { quatAt } from '../math/quat-arrays';
import { CONTACT_PARTS, type Contact, type Motion } from '../motion/motion';
import type { LiveFigure, LiveFrame } from './live-figure';
import type { LiveState } from './live-walker';

interface Step {
  /** Of the motion's slots, in the world: [slotCount x 4]. */
  readonly slots: Float32Array;
  /** Of the source's hips, legs. */
  readonly hips: readonly [number, number, number];
  /** As the character was shown. */
  readonly rotations: Float32Array;
  readonly translations: Float32Array;
  readonly bears: ReadonlySet<string>;
}

/** The last steps of steering: as a motion, and the frames that were shown of it. */
export class KeptSteps {
  private readonly steps: Step[] = [];

  /** @param most so many steps are kept; older ones go. */
  constructor(
    private readonly figure: Pick<LiveFigure, 'carrier' | 'plan'>,
    private readonly like: Motion,
    private readonly framesPerSecond: number,
    private readonly most: number,
  ) {}

  get count(): number {
    return this.steps.length;
  }

  add({ pose, heading, place }: LiveState, { frames, feet }: LiveFrame): void {
    const turn = fromAxisAngle([0, 1, 0], heading);
    const slots = new Float32Array(pose.rotations.length);
    for (let at = 0; at < slots.length; at += 4) slots.set(multiply(turn, quatAt(pose.rotations, at)), at);
    const [sine, cosine] = [Math.sin(heading), Math.cos(heading)];
    const [x, y, z] = pose.hips;
    this.steps.push({
      slots,
      hips: [place[0] + x * cosine + z * sine, y, place[1] + z * cosine - x * sine],
      rotations: frames.rotations.slice(),
      translations: frames.translations.slice(),
      bears: new Set(feet.flatMap(({ part, bears }) => (bears ? [part] : []))),
    });
    if (this.steps.length > this.most) this.steps.shift();
  }

  /** What was steered, in the source's terms. */
  motion(): Motion {
    const { steps, like, framesPerSecond } = this;
    const size = like.slots.length * 4;
    const rotations = new Float32Array(steps.length * size);
    const hips = new Float32Array(steps.length * 3);
    steps.forEach((step, at) => {
      rotations.set(step.slots, at * size);
      hips.set(step.hips, at * 3);
    });
    const contacts = CONTACT_PARTS.flatMap((part): Contact[] => {
      const spans: Contact[] = [];
      steps.forEach(({ bears }, frame) => {
        const last = spans.at(-1);
        if (!bears.has(part)) return;
        if (last && last.to === frame - 1) spans[spans.length - 1] = { ...last, to: frame };
        else spans.push({ part, from: frame, to: frame });
      });
      return spans;
    });
    const frameCount = steps.length;
    const bare = { root: null, shifts: [], morphs: [], own: null };
    return { ...like, ...bare, name: 'live', framesPerSecond, frameCount, rotations, hips, contacts };
  }

  /** What was shown, frame by frame: nothing is carried anew. */
  shown(): Omit<FrameSource, 'plan'> {
    const steps = [...this.steps];
    const { carrier, plan } = this.figure;
    const [turned, placed] = [plan.driven.length * 4, carrier.placedBones.length * 3];
    return {
      placedBones: carrier.placedBones,
      carry: (from, count) => {
        const some = steps.slice(from, from + count);
        const rotations = new Float32Array(some.length * turned);
        const translations = new Float32Array(some.length * placed);
        some.forEach((step, at) => {
          rotations.set(step.rotations, at * turned);
          translations.set(step.translations, at * placed);
        });
        const none = new Float32Array(0);
        return { from, count: some.length, rotations, translations, scales: none, addedRoot: none, morphs: none };
      },
    };
  }
}
