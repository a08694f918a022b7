'use client';

import { useMemo, type ReactNode } from 'react';
import type { RepairOutlook } from '@/core/intake/plan-repair';
import type { LineFit } from '@/core/match/context/match-types';
import type { RigPose } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import { Stage, type StageProps } from '@/ui/stage/Stage';
import type { PaneView } from '@/ui/stage/projection';
import { linesOf, sidesOf } from './match-view';
import { useCharacter } from './character-context';
import { StageSwitches } from './StageSwitches';
import { useSelection } from './use-selection';

type Passed =
  | 'selected'
  | 'hovered'
  | 'highlighted'
  | 'alsoPicked'
  | 'showBefore'
  | 'ghosts'
  | 'handles'
  | 'hinges'
  | 'companions'
  | 'guests'
  | 'paths'
  | 'capsule'
  | 'attach';

interface CharacterStageProps extends Pick<StageProps, Passed | 'onPick' | 'onHover' | 'onTurn' | 'onBearing'> {
  /** Several views at once in place of the one from the address. */
  readonly views?: readonly PaneView[];
  /** Joints to show close up. */
  readonly focus?: readonly number[] | null;
  /** A change of the tree to show before it is made. */
  readonly outlook?: RepairOutlook | null;
  /** A pose to show in place of the fit's own, while it is being changed. */
  readonly pose?: RigPose;
  /** Further switches of the screen that shows it. */
  readonly more?: ReactNode;
}

/** The stage with the current fit on it, and its switches. */
export function CharacterStage({ views, focus, pose: shown, more, ...props }: CharacterStageProps) {
  const { character, definition, fit } = useCharacter();
  const { view, mesh, labels, joints, only } = useSelection();
  const lines = useMemo(() => linesOf(character, fit, definition), [character, fit, definition]);
  const sides = useMemo(() => sidesOf(fit, lines, definition), [fit, lines, definition]);
  const pose: RigPose = shown ?? fit.state.posture;
  const isolated = useMemo(
    () => (only && props.selected !== null ? isolatedBones(character.rig, lines, props.selected) : null),
    [only, props.selected, character, lines],
  );
  const close = focus ?? (isolated ? [...isolated] : null);
  const single = useMemo(() => [view] as const, [view]);
  return (
    <div className="min-h-0 min-w-0">
      <Stage
        {...props}
        rig={character.rig}
        normalisation={character.normalisation}
        pose={pose}
        sides={sides}
        modelUrl={`/api/characters/${character.id}/model/${character.modelHash}`}
        views={views ?? single}
        mesh={mesh}
        jointScale={joints / 100}
        hasLabels={labels}
        isolated={isolated}
        focus={close}
        switches={<StageSwitches hasViews={!views} more={more} />}
      />
    </div>
  );
}

/** Bones of the line that a bone stands on, and the spares between them and just below. */
function isolatedBones(rig: Rig, lines: readonly LineFit[], bone: number): ReadonlySet<number> {
  const line = lines.find(({ bones }) => bones.includes(bone));
  const own = new Set(line?.bones ?? [bone]);
  const mapped = new Set(lines.flatMap(({ bones }) => bones));
  // Parents stand before their children in a rig, so one pass carries spares along.
  for (const { index, parent } of rig.bones) if (own.has(parent) && !mapped.has(index)) own.add(index);
  return own;
}
