'use client';

import { useCallback, useMemo, useState } from 'react';
import { BoneLedger } from '@/ui/BoneLedger';
import { Key } from '@/ui/Key';
import { LineMap } from '@/ui/line-map/LineMap';
import { MapFrame } from '@/ui/line-map/MapFrame';
import { membersAfter } from '@/core/fit/compare';
import type { CharacterView } from '@/contract/character-view';
import { clashingRoles, doubtsOf, type ReviewScope } from '@/core/fit/review';
import { useListening } from '@/ui/use-listening';
import { useCharacter } from '../character/character-context';
import { CharacterStage } from '../character/CharacterStage';
import { useSelection } from '../character/use-selection';
import { DetailStrip } from './DetailStrip';
import { ExplainStrip } from './ExplainStrip';
import { MarkedStrip } from './MarkedStrip';
import { MatchHeading } from './MatchHeading';
import { RunStrip } from './RunStrip';
import { SidesChoice } from './SidesChoice';
import { useMatchKeys } from './use-match-keys';
import { useRunKeys, useRunThrough } from './use-run-through';
import { ledgerRows, linesOf, mapRoles, orderProblems, symmetryBreaks } from '../character/match-view';
import { CompareLedger } from './CompareLedger';
import { useComparison } from './use-comparison';
import { useRepairPreview } from './use-repair-preview';

/** Line map above, stage below, bone ledger at the left; one selection through all three. */
export function MatchStep() {
  useListening('match');
  const { character, definition, fit, act } = useCharacter();
  const { role, bone: boneInAddress, compare, select } = useSelection();
  const comparison = useComparison(compare === 'choose' ? null : compare);
  const [hovered, setHovered] = useState<number | null>(null);
  const { outlook, preview } = useRepairPreview(character);
  const [isExplaining, setExplaining] = useState(false);
  const [marked, setMarked] = useState<readonly number[]>([]);
  const unmark = useCallback(() => setMarked([]), []);
  const present = useMemo(() => marked.filter((index) => index < character.rig.bones.length), [marked, character]);
  /** A role that was picked on the map waits for its bone. */
  const [waiting, setWaiting] = useState<string | null>(null);
  const bone = boneInAddress ?? (role ? (fit.state.assignments[role]?.boneIndex ?? null) : null);
  const lines = useMemo(() => linesOf(character, fit, definition), [character, fit, definition]);
  const roles = useMemo(() => mapRoles(character, fit), [character, fit]);
  const breaks = useMemo(
    () => (character.match.creature.isHumanoid ? symmetryBreaks(character, fit, definition) : NO_ROLES),
    [character, fit, definition],
  );
  const disorder = useMemo(() => orderProblems(fit), [fit]);
  const rows = useMemo(() => ledgerRows(character, fit, definition, lines), [character, fit, definition, lines]);
  const members = useMemo(() => membersAfter(lines), [lines]);
  /** Doubts first; once there are none, what is proposed and not settled. */
  const unsettled = useMemo(() => {
    const inState = (state: string) =>
      definition.roles.filter(({ id }) => fit.state.assignments[id]?.state === state).map(({ id }) => id);
    const doubts = doubtsOf(definition, fit.state, clashingRoles(fit.findings));
    return doubts.length > 0 ? doubts : inState('proposed');
  }, [definition, fit]);

  const { run, start } = useRunThrough();
  const candidate = run ? (run.candidates[run.highlighted]?.boneIndex ?? null) : null;
  const closeUp = useMemo(
    () => (candidate === null ? null : nearbyBones(character, candidate)),
    [character, candidate],
  );
  const findBone = useCallback(
    () => document.querySelector<HTMLInputElement>('input[aria-label="Find a bone"]')?.focus(),
    [],
  );
  useRunKeys(run, findBone);

  const pickRole = useCallback(
    (next: string) => {
      setWaiting(next);
      select({ role: next, bone: fit.state.assignments[next]?.boneIndex ?? null });
    },
    [fit, select],
  );

  const pickBone = useCallback(
    (next: number | null) => {
      if (next === null) {
        setWaiting(null);
        select({ role: null, bone: null });
        return;
      }
      if (run) {
        run.take(next);
        if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
        return;
      }
      const held =
        Object.entries(fit.state.assignments).find(([, assignment]) => assignment.boneIndex === next)?.[0] ?? null;
      if (waiting && held !== waiting) {
        act({ kind: 'assign', role: waiting, boneIndex: next });
        setWaiting(null);
        select({ role: waiting, bone: next });
        return;
      }
      setWaiting(null);
      select({ role: held, bone: next });
    },
    [act, fit, run, select, waiting],
  );

  const nextDoubt = useCallback(() => {
    const order = definition.roles.map(({ id }) => id);
    const from = role ? order.indexOf(role) : -1;
    const next = unsettled.find((id) => order.indexOf(id) > from) ?? unsettled[0];
    if (next) pickRole(next);
  }, [definition, unsettled, pickRole, role]);

  const runThrough = (scope: ReviewScope) => {
    // A run finds bones in the ledger, so that takes its place back from a comparison.
    select({ compare: null });
    if (!start(scope) && scope === 'doubtful') start('all');
  };

  useMatchKeys({
    accept: () => {
      if (role && fit.state.assignments[role] && fit.state.assignments[role].state !== 'settled')
        act({ kind: 'settle', roles: [role] });
    },
    clear: () => {
      if (role && fit.state.assignments[role]) act({ kind: 'clear', role });
    },
    nextDoubt,
    leave: () => {
      setMarked([]);
      pickBone(null);
    },
    runDoubts: () => runThrough('doubtful'),
    runAll: () => runThrough('all'),
    explain: () => setExplaining((is) => !is),
  });

  const dropBone = (on: string, index: number) => {
    act({ kind: 'assign', role: on, boneIndex: index });
    setWaiting(null);
    select({ role: on, bone: index });
  };
  const exchange = (from: string, to: string) => {
    act({ kind: 'swap', roles: [from, to] });
    setWaiting(null);
    select({ role: to, bone: null });
  };

  const strip = () => {
    if (run) return <RunStrip run={run} onFind={findBone} />;
    if (present.length > 0) return <MarkedStrip bones={present} onPreview={preview} onDone={unmark} />;
    if (isExplaining && role) return <ExplainStrip role={role} onClose={() => setExplaining(false)} />;
    return (
      <DetailStrip
        role={role}
        bone={bone}
        isWaiting={waiting !== null && waiting === role}
        onPickBone={pickBone}
        onStopWaiting={() => setWaiting(null)}
        onExplain={() => setExplaining(true)}
        onPreview={preview}
      />
    );
  };

  return (
    <div className="grid h-full min-h-0 grid-cols-[316px_1fr]">
      <div className="flex min-h-0 flex-col border-r border-base-300">
        {compare !== null ? (
          <CompareLedger
            otherId={compare}
            other={comparison.other}
            rows={comparison.rows}
            role={role}
            onChoose={(id) => select({ compare: id === '' ? 'choose' : id })}
            onPick={pickRole}
          />
        ) : (
          <BoneLedger
            rows={rows}
            selected={candidate ?? bone}
            hovered={hovered}
            marked={present}
            onPick={(next) => {
              setMarked([]);
              pickBone(next);
            }}
            onMark={setMarked}
            onHover={setHovered}
          />
        )}
        <p className="quiet border-t border-base-300 px-3 py-1.5 text-[13px]">
          <Key>R</Key> Review doubts · <Key>A</Key> Accept · <Key>N</Key> Next · <Key>?</Key> Keys
        </p>
      </div>
      <div className="grid min-h-0 min-w-0 grid-rows-[auto_auto_minmax(0,1fr)]">
        <div className="px-3 pt-1.5">
          <MatchHeading onRun={() => runThrough('doubtful')} />
          <SidesChoice />
          <MapFrame
            title={character.name}
            facts={[
              character.fileName,
              `${definition.label} definition, version ${definition.version}`,
              `revision ${fit.revision}`,
            ]}
            at={fit.history[0]?.at ?? character.createdAt}
          >
            <LineMap
              definition={definition}
              roles={roles}
              members={members}
              breaks={breaks}
              disorder={disorder}
              differing={comparison.differing}
              selected={run?.role ?? role}
              hoveredBone={candidate ?? hovered}
              onSelect={(next) => {
                run?.end();
                pickRole(next);
              }}
              onDropBone={dropBone}
              onSwap={exchange}
              onHover={(next) => setHovered(next ? (fit.state.assignments[next]?.boneIndex ?? null) : null)}
            />
          </MapFrame>
        </div>
        {strip()}
        <CharacterStage
          selected={candidate ?? bone}
          focus={closeUp}
          outlook={outlook}
          hovered={hovered}
          onPick={pickBone}
          onHover={setHovered}
        />
      </div>
    </div>
  );
}

const NO_ROLES: ReadonlySet<string> = new Set();

/** A bone with its neighbours in the tree, for a close-up that shows where it stands. */
function nearbyBones({ rig }: CharacterView, bone: number): number[] {
  const { parent } = rig.bones[bone];
  return [
    bone,
    ...(parent >= 0 ? [parent] : []),
    ...rig.bones.filter((other) => other.parent === bone).map(({ index }) => index),
  ];
}
