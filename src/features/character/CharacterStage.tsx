'use client';

import { useMemo } from 'react';
import type { RigPose } from '@/core/rig/pose';
import { Stage } from '@/ui/stage/Stage';
import type { PaneView } from '@/ui/stage/projection';
import { linesOf, sidesOf } from '../match/match-view';
import { useCharacter } from './character-context';
import { MESH_MODES, useSelection, VIEWS } from './use-selection';

interface CharacterStageProps {
  readonly selected: number | null;
  readonly hovered: number | null;
  readonly highlighted?: ReadonlySet<number>;
  readonly showBefore?: boolean;
  /** Several views at once in place of the one from the address. */
  readonly views?: readonly PaneView[];
  readonly onPick: (bone: number | null) => void;
  readonly onHover: (bone: number | null) => void;
}

/** The stage with the current fit on it, and its switches. */
export function CharacterStage({ views, ...props }: CharacterStageProps) {
  const { character, definition, fit } = useCharacter();
  const { view, mesh, select } = useSelection();
  const lines = useMemo(() => linesOf(character, fit, definition), [character, fit, definition]);
  const sides = useMemo(() => sidesOf(fit, lines), [fit, lines]);
  const pose: RigPose = fit.state.posture;
  const single = useMemo(() => [view] as const, [view]);
  return (
    <div className="relative min-h-0 min-w-0">
      <Stage {...props} rig={character.rig} normalisation={character.normalisation} pose={pose} sides={sides} modelUrl={`/api/characters/${character.id}/model/${character.modelHash}`} views={views ?? single} mesh={mesh} />
      <div className={`pointer-events-none absolute flex gap-3 text-[13px] ${views ? 'bottom-2 left-3' : 'top-1.5 right-3'}`}>
        <fieldset className="pointer-events-auto flex gap-1 rounded-field bg-base-100/75 px-1">
          <legend className="sr-only">Mesh</legend>
          <span className="quiet py-0.5 pl-1">mesh</span>
          {MESH_MODES.map((mode) => <Choice key={mode} isOn={mesh === mode} onClick={() => select({ mesh: mode })}>{mode}</Choice>)}
        </fieldset>
        {!views && (
          <fieldset className="pointer-events-auto flex gap-1 rounded-field bg-base-100/75 px-1">
            <legend className="sr-only">View</legend>
            {VIEWS.map((name) => <Choice key={name} isOn={view === name} onClick={() => select({ view: name })}>{name}</Choice>)}
          </fieldset>
        )}
      </div>
    </div>
  );
}

function Choice({ isOn, onClick, children }: { isOn: boolean; onClick: () => void; children: string }) {
  return <button type="button" aria-pressed={isOn} className={`rounded-field px-1.5 py-0.5 ${isOn ? 'font-semibold text-primary' : 'quiet hover:text-base-content'}`} onClick={onClick}>{children}</button>;
}
