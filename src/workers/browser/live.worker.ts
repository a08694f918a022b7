import { expose, transfer } from 'comlink';
import { judgeMotion } from '@/core/drill/judge/judge-motion';
import { problemOf, type Problem } from '@/core/errors/yarvo-error';
import type { Geometry } from '@/core/geometry/geometry';
import { findSoles } from '@/core/ground/sole-points';
import { KeptSteps } from '@/core/live/kept-steps';
import { LiveFigure } from '@/core/live/live-figure';
import type { MapNode } from '@/core/live/live-map';
import { LiveSource } from '@/core/live/live-source';
import { LiveWalker, type LiveInput } from '@/core/live/live-walker';
import type { Motion } from '@/core/motion/motion';
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

let held: {
  readonly walker: LiveWalker;
  readonly figure: LiveFigure;
  readonly target: DrillTarget;
  /** The mesh, for its soles and its shape; null where there is none. */
  readonly geometry: Geometry | null;
  readonly kept: KeptSteps;
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
        geometry,
        kept: new KeptSteps(figure, like, 1 / STEP, KEPT_FRAMES),
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
      const stepped = held.figure.step(state, STEP);
      const { frames, points, feet } = stepped;
      held.kept.add(state, stepped);
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

  /** Measures the last ten seconds as they were shown; null where there is not yet a second of it. */
  judge(limits: DrillLimits): DrillJudged | null {
    if (!held || held.kept.count < 60) return null;
    const { geometryUrl: _url, ...subject } = held.target;
    const { kept, geometry } = held;
    return forPage(judgeMotion({ ...subject, motion: kept.motion(), shown: kept.shown(), geometry, limits }));
  },
};
export type LiveWorkerApi = typeof api;

expose(api);
