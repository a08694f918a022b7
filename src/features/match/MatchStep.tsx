'use client';

import { useCallback, useEffect, useMemo, useState } from 'react';
import { BoneLedger } from '@/ui/BoneLedger';
import { LineMap } from '@/ui/line-map/LineMap';
import { useListening } from '@/ui/use-listening';
import { useCharacter } from '../character/character-context';
import { CharacterStage } from '../character/CharacterStage';
import { useSelection } from '../character/use-selection';
import { DetailStrip } from './DetailStrip';
import { ledgerRows, linesOf, mapRoles, runMembers } from './match-view';

/** Line map above, stage below, bone ledger at the left; one selection through all three. */
export function MatchStep() {
  useListening('match');
  const { character, definition, fit, act } = useCharacter();
  const { role, bone: boneInAddress, select } = useSelection();
  const [hovered, setHovered] = useState<number | null>(null);
  /** A role that was picked on the map waits for its bone. */
  const [waiting, setWaiting] = useState<string | null>(null);
  const bone = boneInAddress ?? (role ? (fit.state.assignments[role]?.boneIndex ?? null) : null);
  const lines = useMemo(() => linesOf(character, fit, definition), [character, fit, definition]);
  const roles = useMemo(() => mapRoles(character, fit), [character, fit]);
  const rows = useMemo(() => ledgerRows(character, fit, definition, lines), [character, fit, definition, lines]);
  const members = useMemo(() => runMembers(lines), [lines]);
  /** Doubts first; once there are none, what is proposed and not settled. */
  const unsettled = useMemo(() => {
    const inState = (state: string) => definition.roles.filter(({ id }) => fit.state.assignments[id]?.state === state).map(({ id }) => id);
    const doubts = inState('doubtful');
    return doubts.length > 0 ? doubts : inState('proposed');
  }, [definition, fit]);

  const pickRole = useCallback((next: string) => {
    setWaiting(next);
    select({ role: next, bone: fit.state.assignments[next]?.boneIndex ?? null });
  }, [fit, select]);

  const pickBone = useCallback((next: number | null) => {
    if (next === null) {
      setWaiting(null);
      select({ role: null, bone: null });
      return;
    }
    const held = Object.entries(fit.state.assignments).find(([, assignment]) => assignment.boneIndex === next)?.[0] ?? null;
    if (waiting && held !== waiting) {
      act({ kind: 'assign', role: waiting, boneIndex: next });
      setWaiting(null);
      select({ role: waiting, bone: next });
      return;
    }
    setWaiting(null);
    select({ role: held, bone: next });
  }, [act, fit, select, waiting]);

  const nextDoubt = useCallback(() => {
    const order = definition.roles.map(({ id }) => id);
    const from = role ? order.indexOf(role) : -1;
    const next = unsettled.find((id) => order.indexOf(id) > from) ?? unsettled[0];
    if (next) pickRole(next);
  }, [definition, unsettled, pickRole, role]);

  useMatchKeys({
    accept: () => { if (role && fit.state.assignments[role] && fit.state.assignments[role].state !== 'settled') act({ kind: 'settle', roles: [role] }); },
    clear: () => { if (role && fit.state.assignments[role]) act({ kind: 'clear', role }); },
    nextDoubt,
    leave: () => pickBone(null),
  });

  return (
    <div className="grid h-full min-h-0 grid-cols-[316px_1fr]">
      <div className="flex min-h-0 flex-col border-r border-base-300">
        <BoneLedger rows={rows} selected={bone} hovered={hovered} onPick={pickBone} onHover={setHovered} />
        <p className="quiet border-t border-base-300 px-3 py-1.5 text-[13px]"><Key>A</Key> accept · <Key>N</Key> next · <Key>Del</Key> clear · <Key>Esc</Key> none</p>
      </div>
      <div className="grid min-h-0 min-w-0 grid-rows-[auto_auto_minmax(0,1fr)]">
        <div className="px-3 pt-1.5">
          <MatchHeading />
          <div className="mx-auto max-w-[1400px]" style={{ maxHeight: '44vh' }}>
            <LineMap definition={definition} roles={roles} members={members} selected={role} hoveredBone={hovered} onSelect={pickRole} onDropBone={(next, index) => { act({ kind: 'assign', role: next, boneIndex: index }); setWaiting(null); select({ role: next, bone: index }); }} onSwap={(from, to) => { act({ kind: 'swap', roles: [from, to] }); setWaiting(null); select({ role: to, bone: null }); }} onHover={(next) => setHovered(next ? (fit.state.assignments[next]?.boneIndex ?? null) : null)} />
          </div>
        </div>
        <DetailStrip role={role} bone={bone} isWaiting={waiting !== null && waiting === role} onPickBone={pickBone} onStopWaiting={() => setWaiting(null)} />
        <CharacterStage selected={bone} hovered={hovered} onPick={pickBone} onHover={setHovered} />
      </div>
    </div>
  );
}

const Key = ({ children }: { children: string }) => <kbd className="rounded-sm border border-base-300 px-1 font-mono text-xs">{children}</kbd>;

function MatchHeading() {
  const { character, definition, fit, act } = useCharacter();
  const sure = Object.entries(fit.state.assignments).filter(([role, assignment]) => assignment.state === 'proposed' && (character.match.assignments[role]?.confidence ?? 0) >= 0.9);
  const { creature, frame } = character.match;
  return (
    <div className="flex items-baseline gap-3 text-[13px]">
      <span className="quiet whitespace-nowrap">{definition.label} definition, version {definition.version}</span>
      {!creature.isHumanoid && <span className="min-w-0 truncate text-warning" title={creature.reasons.join('; ')}>not a humanoid: {creature.reasons[0]}</span>}
      {frame.namesAreSwapped && <span className="text-error">left and right names are swapped</span>}
      <MoreActions />
      <button className="link link-hover whitespace-nowrap" onClick={() => act({ kind: 'swap-sides' })}>exchange left and right</button>
      <button className="link link-hover whitespace-nowrap" onClick={() => act({ kind: 'rematch' })}>back to the first pass</button>
      {sure.length > 0 && <button className="link font-semibold whitespace-nowrap text-primary" onClick={() => act({ kind: 'settle-above', confidence: 0.9 })}>settle {sure.length} above 90 %</button>}
    </div>
  );
}

/** Actions on a line or the whole fit, out of the way of those used all day. */
function MoreActions() {
  const { definition, act } = useCharacter();
  const { role } = useSelection();
  const line = definition.lines.find((candidate) => candidate.roles.includes(role ?? ''));
  const run = (value: string) => {
    if (value === 'line' && line) act({ kind: 'clear-line', line: line.id });
    if (value === 'all') act({ kind: 'clear-all' });
    if (value === 'left' || value === 'right') act({ kind: 'mirror', from: value });
  };
  return (
    <select aria-label="More actions" className="select select-xs ml-auto w-36" value="" onChange={(event) => run(event.target.value)}>
      <option value="">more …</option>
      {line && <option value="line">clear the {line.label.toLowerCase()}</option>}
      <option value="all">clear all roles</option>
      <option value="left">mirror left to right</option>
      <option value="right">mirror right to left</option>
    </select>
  );
}

function useMatchKeys(keys: { accept: () => void; clear: () => void; nextDoubt: () => void; leave: () => void }): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (event.ctrlKey || event.metaKey || event.altKey || /INPUT|TEXTAREA|SELECT/.test(target.tagName)) return;
      const action = { a: keys.accept, n: keys.nextDoubt, Delete: keys.clear, Escape: keys.leave }[event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [keys]);
}
