import type { OverlayState, OverlayTheme, StageBone } from './overlay-types';

interface RodLook {
  readonly colour: string;
  readonly alpha: number;
  readonly width: number;
}

interface RingLook {
  readonly fill: string;
  readonly stroke: string;
  readonly alpha: number;
  readonly width: number;
  readonly radius: number;
}

/** What is drawn alike, to be drawn in one go: a stroke for each of two thousand bones would hold up the page. */
interface Alike<Look> {
  readonly look: Look;
  readonly bones: readonly StageBone[];
}

/** How a skeleton is drawn, wherever its joints lie: made when what is marked changes, not for each frame. */
export interface SkeletonPlan {
  readonly rods: readonly Alike<RodLook>[];
  readonly rings: readonly Alike<RingLook>[];
}

export function planSkeleton(state: OverlayState, theme: OverlayTheme): SkeletonPlan {
  const ordered = inDrawingOrder(state);
  return {
    rods: alike(
      ordered.filter(({ parent }) => parent >= 0),
      (bone) => rodLook(state, bone, theme),
    ),
    rings: alike(ordered, (bone) => ringLook(state, bone, theme)),
  };
}

function alike<Look>(bones: readonly StageBone[], lookOf: (bone: StageBone) => Look): Alike<Look>[] {
  const groups = new Map<string, { look: Look; bones: StageBone[] }>();
  for (const bone of bones) {
    const look = lookOf(bone);
    const key = JSON.stringify(look);
    const group = groups.get(key);
    if (group) group.bones.push(bone);
    else groups.set(key, { look, bones: [bone] });
  }
  return [...groups.values()];
}

/** Spares lie below the body, and what is marked lies on top. */
function inDrawingOrder(state: OverlayState): StageBone[] {
  const ranks: StageBone[][] = [[], [], []];
  for (const bone of state.bones) ranks[isInFocus(state, bone.index) ? 2 : bone.side === 'spare' ? 0 : 1].push(bone);
  return ranks.flat();
}

const isPicked = (state: OverlayState, bone: number): boolean => bone === state.selected || state.alsoPicked.has(bone);

const isInFocus = (state: OverlayState, bone: number): boolean =>
  isPicked(state, bone) || bone === state.hovered || state.highlighted.has(bone);

const colourOf = (bone: StageBone, theme: OverlayTheme): string =>
  bone.side === 'spare' ? theme.quiet : theme[bone.side];

function rodLook(state: OverlayState, bone: StageBone, theme: OverlayTheme): RodLook {
  const above = state.bones[bone.parent];
  const isSpare = bone.side === 'spare';
  return {
    colour: state.highlighted.has(bone.index)
      ? theme.alarm
      : colourOf(above && above.side !== 'centre' ? above : bone, theme),
    alpha: isSpare ? 0.55 : 1,
    width: isPicked(state, bone.parent) ? 5 : isSpare ? 1.1 : 2,
  };
}

function ringLook(state: OverlayState, bone: StageBone, theme: OverlayTheme): RingLook {
  const isBig = isInFocus(state, bone.index);
  const isSpare = bone.side === 'spare';
  return {
    fill: isPicked(state, bone.index) ? theme.accent : theme.ground,
    stroke: state.highlighted.has(bone.index) ? theme.alarm : colourOf(bone, theme),
    alpha: isSpare && !isBig ? 0.6 : 1,
    width: isBig ? 2 : 1.3,
    radius: (isBig ? 5 : isSpare ? 1.8 : 3) * state.jointScale,
  };
}
