'use client';

import { usePathname, useRouter } from 'next/navigation';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useSettleAbove } from './use-settle-above';
import { useCharacter } from './character-context';
import { writeQuery } from './pending-query';
import { stepAddress } from './step-address';
import { rankFinds, type Find } from './find';
import { useRoster } from './use-roster';
import { capitalised } from '@/ui/text';

/** Roles, bones, characters and actions by part of their name. */
export function FindBox({ onClose }: { onClose: () => void }) {
  const { character, definition, fit, act, undo, redo } = useCharacter();
  const router = useRouter();
  const pathname = usePathname();
  const dialog = useRef<HTMLDialogElement>(null);
  const [wanted, setWanted] = useState('');
  const [at, setAt] = useState(0);
  const roster = useRoster();
  useEffect(() => {
    dialog.current?.showModal();
  }, []);
  const [settleAbove] = useSettleAbove();
  const finds = useMemo<readonly Find[]>(() => {
    const onMatch = (query: Record<string, string | number>) => {
      const address = stepAddress(character, 'match', query);
      if (pathname.endsWith('/match')) writeQuery(address.slice(address.indexOf('?') + 1));
      else router.push(address);
    };
    const step = (name: string) => router.push(stepAddress(character, name));
    const boneOf = (role: string) =>
      fit.state.assignments[role] ? character.rig.bones[fit.state.assignments[role].boneIndex].name : 'Vacant';
    return [
      ...definition.roles.map(({ id, label }) => ({
        kind: 'role',
        text: label,
        detail: boneOf(id),
        run: () => onMatch({ role: id }),
      })),
      ...character.rig.bones.map((bone) => ({
        kind: 'bone',
        text: bone.name,
        detail: '',
        run: () => onMatch({ bone: bone.index }),
      })),
      ...roster.map((row) => ({
        kind: 'character',
        text: row.name,
        detail: `${row.state}, ${row.bones} bones`,
        run: () => router.push(`/characters/${row.id}/match`),
      })),
      ...['intake', 'match', 'posture', 'findings', 'handoff'].map((name) => ({
        kind: 'action',
        text: `Go to ${name}`,
        detail: '',
        run: () => step(name),
      })),
      { kind: 'action', text: 'Back to the roster', detail: '', run: () => router.push('/') },
      { kind: 'action', text: 'Undo', detail: 'Ctrl+Z', run: undo },
      { kind: 'action', text: 'Redo', detail: 'Ctrl+Shift+Z', run: redo },
      {
        kind: 'action',
        text: `Settle what is proposed at ${settleAbove} % or more`,
        detail: '',
        run: () => act({ kind: 'settle-above', confidence: settleAbove / 100 }),
      },
      { kind: 'action', text: 'Exchange left and right', detail: '', run: () => act({ kind: 'swap-sides' }) },
      { kind: 'action', text: 'Copy left side to right', detail: '', run: () => act({ kind: 'mirror', from: 'left' }) },
      {
        kind: 'action',
        text: 'Copy right side to left',
        detail: '',
        run: () => act({ kind: 'mirror', from: 'right' }),
      },
      { kind: 'action', text: 'Clear all roles', detail: '', run: () => act({ kind: 'clear-all' }) },
      { kind: 'action', text: 'Back to the first pass', detail: '', run: () => act({ kind: 'rematch' }) },
      { kind: 'action', text: 'Align the posture', detail: '', run: () => act({ kind: 'align-posture' }) },
      {
        kind: 'action',
        text: fit.state.isClosed ? 'Reopen the fit' : 'Close the fit',
        detail: fit.state.isClosed ? 'Give the reason in the band above' : '',
        run: () => {
          if (!fit.state.isClosed) act({ kind: 'close' });
        },
      },
    ];
  }, [character, definition, fit, roster, router, pathname, act, undo, redo, settleAbove]);
  const shown = useMemo(() => rankFinds(finds, wanted), [finds, wanted]);
  const choose = (find: Find | undefined) => {
    if (!find) return;
    onClose();
    find.run();
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step) {
      event.preventDefault();
      setAt(Math.max(0, Math.min(shown.length - 1, at + step)));
    } else if (event.key === 'Enter') {
      event.preventDefault();
      choose(shown[at]);
    }
  };
  return (
    <dialog
      ref={dialog}
      aria-label="Find"
      className="m-auto mt-16 w-[36rem] rounded-box border border-base-300 bg-base-100 p-2 text-base-content shadow-lg backdrop:bg-black/20"
      onClose={onClose}
      onKeyDown={onKeyDown}
      onClick={(event) => {
        if (event.target === dialog.current) onClose();
      }}
    >
      <input
        autoFocus
        type="text"
        role="combobox"
        aria-expanded
        aria-controls="find-list"
        aria-activedescendant={shown[at] ? `find-${at}` : undefined}
        aria-label="Find a role, bone, character or action"
        className="input w-full"
        placeholder="A role, a bone, a character, an action"
        value={wanted}
        onChange={(event) => {
          setWanted(event.target.value);
          setAt(0);
        }}
      />
      <ul id="find-list" role="listbox" aria-label="Found" className="mt-1 max-h-[22rem] overflow-auto">
        {shown.map((find, index) => (
          <li
            key={`${find.kind} ${find.text} ${index}`}
            id={`find-${index}`}
            role="option"
            aria-selected={index === at}
            className={`flex cursor-pointer items-baseline gap-3 rounded-field px-2 py-1 ${index === at ? 'bg-(--accent-wash)' : ''}`}
            onPointerEnter={() => setAt(index)}
            onClick={() => choose(find)}
          >
            <span className="quiet w-16 shrink-0 text-[13px]">{capitalised(find.kind)}</span>
            <span className={`min-w-0 flex-1 truncate ${find.kind === 'bone' ? 'font-mono text-[13px]' : ''}`}>
              {find.text}
            </span>
            <span className="quiet truncate text-[13px]">{find.detail}</span>
          </li>
        ))}
      </ul>
      {shown.length === 0 && <p className="quiet px-2 py-3">No match.</p>}
    </dialog>
  );
}
