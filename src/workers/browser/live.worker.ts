import { expose, transfer } from 'comlink';
import { judgeMotion } from '@/core/drill/judge/judge-motion';
import { problemOf, type Problem } from '@/core/errors/yarvo-error';
import { findSoles } from '@/core/ground/sole-points';
import { LiveFigure } from '@/core/live/live-figure';
import type { MapNode } from '@/core/live/live-map';
import { LiveSource } from '@/core/live/live-source';
import { LiveWalker, type LiveInput } from '@/core/live/live-walker';
import { fromAxisAngle, multiply, type Quat } from '@/core/math/quat';
import type { Contact, Motion } from '@/core/motion/motion';
import { referenceFigure } from '@/core/motion/reference-figure';
import type { DrillLimits } from '@/core/profile/drill-limits';
import { fetchGeometry, playSource, type DrillSource } from './drill-source';
import { forPage, type DrillJudged } from './drill-judged';
import type { DrillTarget } from './drill.worker';

/** A motion of the map: where it stands, or null for where its own speed puts it. */
export interface LiveChoice {
  readonly key: string;
  readonly source: DrillSource;
  readonly at: { readonly side: number; readonly ahead: number } | null;
}

export interface LiveWanted {
  readonly choices: readonly LiveChoice[];
  readonly turnLeft: DrillSource | null;
  readonly turnRight: DrillSource | null;
  readonly crouch: DrillSource | null;
  readonly jump: DrillSource | null;
}

export interface LiveInfo {
  readonly turned: readonly number[];
  readonly placed: readonly number[];
  readonly morphs: readonly string[];
  /** The map as it came out. */
  readonly nodes: readonly MapNode[];
}

export interface LiveShown {
  readonly rotations: Float32Array;
  readonly translations: Float32Array;
  readonly morphs: Float32Array;
  /** [boneCount x 3] */
  readonly points: Float32Array;
  readonly weights: readonly number[];
  /** Furthest slide of the contacts that go on, % of the leg. */
  readonly slidePercent: number;
}

export type LiveAnswer =
  { readonly ok: true; readonly info: LiveInfo } | { readonly ok: false; readonly problem: Problem };

const STEP = 1 / 60;
/** Kept of what was steered. */
const KEPT_FRAMES = 600;

interface Kept {
  readonly rotations: Float32Array;
  readonly hips: readonly [number, number, number];
  readonly bears: Readonly<Record<'leftFoot' | 'rightFoot', boolean>>;
}

let held: {
  readonly walker: LiveWalker;
  readonly figure: LiveFigure;
  readonly target: DrillTarget;
  readonly like: Motion;
  readonly kept: Kept[];
  behind: number;
} | null = null;

/** Steers a character: all of it happens here, the page hands over what is pressed and draws what comes back. */
const api = {
  async open({ choices, turnLeft, turnRight, crouch, jump }: LiveWanted, target: DrillTarget): Promise<LiveAnswer> {
    try {
      const made = await Promise.all(choices.map(({ source }) => playSource(source)));
      const [turnsLeft, turnsRight, crouches, jumps] = await Promise.all(
        [turnLeft, turnRight, crouch, jump].map(async (source) => (source ? (await playSource(source)).motion : null)),
      );
      const like = made[0].motion;
      const { slots, legMetres } = like;
      const sourceOf = (motion: Motion | null) => motion && new LiveSource(motion, slots);
      const sources = made.map(({ motion }) => new LiveSource(motion, slots));
      const nodes = choices.map(({ key, at }, each): MapNode => ({
        key,
        side: at?.side ?? sources[each].mean[0] * legMetres,
        ahead: at?.ahead ?? sources[each].mean[1] * legMetres,
      }));
      const motions = {
        sources,
        turnLeft: sourceOf(turnsLeft),
        turnRight: sourceOf(turnsRight),
        crouch: sourceOf(crouches),
        jump: sourceOf(jumps),
      };
      const { target: to, carrying, geometryUrl } = target;
      const geometry = geometryUrl === null ? null : await fetchGeometry(geometryUrl);
      const soles = findSoles(to, referenceFigure(to, to.spares).standing, geometry, carrying.contactPoints);
      const figure = new LiveFigure(to, carrying, soles, slots, like);
      held = {
        walker: new LiveWalker(nodes, motions, slots, 1 / legMetres),
        figure,
        target,
        like,
        kept: [],
        behind: 0,
      };
      const { plan, carrier } = figure;
      const turned = plan.driven.map(({ boneIndex }) => boneIndex);
      return { ok: true, info: { turned, placed: carrier.placedBones, morphs: plan.morphs.morphs, nodes } };
    } catch (error) {
      return { ok: false, problem: problemOf(error, 'live') };
    }
  },

  /** @param dt seconds that passed on the page. */
  step(dt: number, input: LiveInput): LiveShown {
    if (!held) throw new Error('live worker: asked before it was given motions');
    held.behind = Math.min(0.25, held.behind + dt);
    let shown: LiveShown | null = null;
    // Steps of one length, so that what was steered can be kept as a motion.
    do {
      const state = held.walker.step(STEP, input);
      const { frames, points, feet } = held.figure.step(state, STEP);
      keep(state.pose.rotations, state.heading, state.place, state.pose.hips, state.pose.bears);
      held.behind -= STEP;
      shown = {
        rotations: frames.rotations,
        translations: frames.translations,
        morphs: frames.morphs,
        points: Float32Array.from(points),
        weights: state.weights,
        slidePercent: Math.max(0, ...feet.map(({ slide }) => slide)) * 100,
      };
    } while (held.behind >= STEP);
    return transfer(shown, [shown.rotations.buffer, shown.translations.buffer, shown.points.buffer] as ArrayBuffer[]);
  },

  /** Measures the last ten seconds; null where there is not yet a second of it. */
  judge(limits: DrillLimits): DrillJudged | null {
    if (!held || held.kept.length < 60) return null;
    const { target, like, kept } = held;
    const { geometryUrl: _url, ...subject } = target;
    const judgement = judgeMotion({
      ...subject,
      // Feet were held while it was steered; they are held the same way here.
      carrying: { ...subject.carrying, grounding: 'plant' },
      motion: motionOf(like, kept),
      geometry: null,
      limits,
    });
    return forPage(judgement);
  },
};
export type LiveWorkerApi = typeof api;

function keep(
  rotations: Float64Array,
  heading: number,
  place: readonly [number, number],
  hips: readonly [number, number, number],
  bears: Kept['bears'],
): void {
  if (!held) return;
  const turn = fromAxisAngle([0, 1, 0], heading);
  const turned = new Float32Array(rotations.length);
  for (let at = 0; at < rotations.length; at += 4)
    turned.set(multiply(turn, [...rotations.subarray(at, at + 4)] as unknown as Quat), at);
  const [sine, cosine] = [Math.sin(heading), Math.cos(heading)];
  held.kept.push({
    rotations: turned,
    hips: [place[0] + hips[0] * cosine + hips[2] * sine, hips[1], place[1] + hips[2] * cosine - hips[0] * sine],
    bears: { ...bears },
  });
  if (held.kept.length > KEPT_FRAMES) held.kept.shift();
}

function motionOf(like: Motion, kept: readonly Kept[]): Motion {
  const rotations = new Float32Array(kept.length * like.slots.length * 4);
  const hips = new Float32Array(kept.length * 3);
  const [x, , z] = kept[0].hips;
  kept.forEach((frame, at) => {
    rotations.set(frame.rotations, at * like.slots.length * 4);
    hips.set([frame.hips[0] - x, frame.hips[1], frame.hips[2] - z], at * 3);
  });
  const contacts = (['leftFoot', 'rightFoot'] as const).flatMap((part): Contact[] => {
    const spans: Contact[] = [];
    kept.forEach(({ bears }, frame) => {
      const last = spans.at(-1);
      if (!bears[part]) return;
      if (last && last.to === frame - 1) spans[spans.length - 1] = { ...last, to: frame };
      else spans.push({ part, from: frame, to: frame });
    });
    return spans;
  });
  return {
    ...like,
    name: 'live',
    framesPerSecond: 60,
    frameCount: kept.length,
    rotations,
    hips,
    contacts,
    root: null,
    shifts: [],
    morphs: [],
    own: null,
  };
}

expose(api);
