'use client';

import { useState } from 'react';
import { PROVENANCE_FIELDS } from '@/ui/provenance-fields';
import { useCharacter } from '../character/character-context';
import { Block } from './parts';

/** Where the character comes from; travels with it to the handoff. */
export function ProvenanceBlock() {
  const { character, fit, decide } = useCharacter();
  const { provenance } = fit.state.intake;
  return (
    <Block title="Source and licence" aside="Goes into the handoff">
      <div className="grid grid-cols-[6.25rem_1fr] items-center gap-y-1 text-[13px]">
        {PROVENANCE_FIELDS.map(([field, label]) => (
          <Field
            key={`${field} ${provenance[field]}`}
            label={label}
            value={provenance[field]}
            said={character.rig.source.provenance[field]}
            onDone={(value) => decide({ provenance: { ...provenance, [field]: value } })}
          />
        ))}
      </div>
    </Block>
  );
}

function Field({
  label,
  value,
  said,
  onDone,
}: {
  label: string;
  value: string;
  said: string;
  onDone: (value: string) => void;
}) {
  const [text, setText] = useState(value);
  const send = () => {
    if (text.trim() !== value) onDone(text.trim());
  };
  return (
    <label className="contents">
      <span className="quiet">{label}</span>
      <input
        className="input w-full input-xs"
        value={text}
        maxLength={500}
        placeholder={said ? `The file says: ${said}` : 'Not stated'}
        onChange={(event) => setText(event.target.value)}
        onBlur={send}
        onKeyDown={(event) => {
          if (event.key === 'Enter') send();
        }}
      />
    </label>
  );
}
