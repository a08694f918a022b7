'use client';

import { useState } from 'react';
import type { AlignChoices } from '@/core/posture/align-posture';
import { useCharacter } from '../character/character-context';

type ChoiceTexts = { [Key in keyof AlignChoices]: { label: string; values: Record<AlignChoices[Key], string> } };

const TEXTS: ChoiceTexts = {
  roll: { label: 'Roll', values: { keep: 'as the file has it', set: "on the definition's hinges" } },
  curl: { label: 'Fingers', values: { straighten: 'straightened to the targets', keep: 'keep their curl' } },
  feet: { label: 'Feet', values: { align: 'point ahead as the definition says', keep: 'keep where they point' } },
  shoulders: { label: 'Shoulders', values: { leave: 'left as they are', level: 'levelled' } },
  body: { label: 'Body', values: { leave: 'leans as it does', straighten: 'straightened where it leans too far' } },
};
const KEYS = Object.keys(TEXTS) as (keyof AlignChoices)[];

/** What aligning does and leaves; a change of mind aligns anew what is aligned already. */
export function AlignPanel({ picked }: { picked: readonly string[] }) {
  const { definition, fit, act } = useCharacter();
  const { posture } = fit.state;
  const [pending, setPending] = useState<AlignChoices | null>(null);
  const choices = pending ?? posture.choices;
  const line = definition.lines.find(({ roles }) => picked.length > 0 && roles.includes(picked[0]));
  const choose = (change: Partial<AlignChoices>) => {
    const next = { ...choices, ...change };
    if (posture.aligned.length === 0) setPending(next);
    else act({ kind: 'align-posture', roles: [...posture.aligned], choices: next });
  };
  return (
    <section aria-label="Align" className="grid gap-1.5 px-4 py-2 text-[13px]">
      {KEYS.map((key) => (
        <label key={key} className="flex items-center gap-2">
          <span className="w-20">{TEXTS[key].label}</span>
          <select
            className="select flex-1 select-xs"
            value={choices[key]}
            onChange={(event) => choose({ [key]: event.target.value })}
          >
            {Object.entries(TEXTS[key].values).map(([value, text]) => (
              <option key={value} value={value}>
                {text}
              </option>
            ))}
          </select>
        </label>
      ))}
      <div className="flex items-center gap-2">
        <button className="btn btn-xs" onClick={() => act({ kind: 'align-posture', choices })}>
          Align all this way
        </button>
        <button
          className="btn btn-xs"
          disabled={!line}
          onClick={() =>
            line &&
            act({
              kind: 'align-posture',
              roles: line.roles.filter((role) => fit.state.assignments[role] !== undefined),
              choices,
            })
          }
        >
          {line ? `Align the line “${line.label}”` : 'Align a line'}
        </button>
        <span className="quiet ml-auto">
          {posture.aligned.length === 0 ? 'nothing aligned' : `${posture.aligned.length} roles aligned`}
        </span>
      </div>
    </section>
  );
}
