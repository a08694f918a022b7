'use client';

import { useState } from 'react';
import { isSizeInDoubt, likelyUnits } from '@/core/frame/normalise';
import { unitFor, type SizeChange } from '@/core/frame/size-change';
import { useCharacter } from '../character/character-context';
import { Block } from './parts';

const MOST_OFFERED = 3;
/** Heights beyond these are told apart by name when a person confirms one. */
const CHILD_BELOW_METRES = 1.4;

/** How tall the figure is: what says so, the question where nothing does, and a height or scale of one's own. */
export function SizeBlock() {
  const { character, decide } = useCharacter();
  const { normalisation, profile } = character;
  const { heightFile, heightMetres, scale, unitFrom } = normalisation;
  const isInDoubt = isSizeInDoubt(normalisation, profile.heightMetres);
  const read = (unitMetres: number) => decide({ unitMetres });
  const change = (size: SizeChange) => {
    const unitMetres = unitFor(size, normalisation);
    if (unitMetres !== null) read(unitMetres);
  };
  return (
    <Block title="Size" aside={`${heightMetres.toFixed(2)} m tall, ${EVIDENCE_TEXT[unitFrom]}`}>
      {isInDoubt && (
        <div role="alert" className="mb-1.5 rounded-box border border-warning px-2 py-1.5 text-[13px]">
          <p>
            The file holds {heightFile.toFixed(2)} units and does not say what they are. Guessed, the figure is{' '}
            {heightMetres.toFixed(2)} m tall. What is it?
          </p>
          <div className="mt-1 flex flex-wrap gap-1">
            {likelyUnits(heightFile)
              .filter(({ metres }) => Math.abs(metres / scale - 1) > 1e-6)
              .slice(0, MOST_OFFERED)
              .map(({ metres, name }) => (
                <button key={name} className="btn btn-xs" onClick={() => read(metres)}>
                  In {name}: {(heightFile * metres).toFixed(2)} m
                </button>
              ))}
            <button className="btn btn-xs" onClick={() => read(scale)}>
              {heightMetres.toFixed(2)} m is right: {heightMetres < CHILD_BELOW_METRES ? 'a child' : 'a giant'}
            </button>
          </div>
        </div>
      )}
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px]">
        <SizeForm
          before="Make it"
          after="m tall"
          label="Height in metres"
          placeholder={heightMetres.toFixed(2)}
          action="Set"
          isOff={heightFile <= 0}
          onSize={(metres) => change({ kind: 'height', metres })}
        />
        <SizeForm
          before="Scale by"
          label="Scale factor"
          placeholder="1"
          action="Scale"
          onSize={(factor) => change({ kind: 'factor', factor })}
        />
      </div>
    </Block>
  );
}

interface SizeFormProps {
  readonly before: string;
  readonly after?: string;
  readonly label: string;
  readonly placeholder: string;
  readonly action: string;
  readonly isOff?: boolean;
  readonly onSize: (value: number) => void;
}

/** A number that its button or Enter sends; then the field is empty again. */
function SizeForm({ before, after, label, placeholder, action, isOff = false, onSize }: SizeFormProps) {
  const [text, setText] = useState('');
  const value = Number(text.replace(',', '.'));
  const canSend = isSize(value) && !isOff;
  return (
    <form
      className="flex items-center gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (canSend) onSize(value);
        setText('');
      }}
    >
      <label className="flex items-center gap-1">
        {before}
        <input
          className="input w-16 input-xs"
          inputMode="decimal"
          aria-label={label}
          placeholder={placeholder}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        {after}
      </label>
      <button className="btn btn-xs" disabled={!canSend}>
        {action}
      </button>
    </form>
  );
}

const isSize = (value: number): boolean => Number.isFinite(value) && value >= 0.001 && value <= 1_000;

const EVIDENCE_TEXT = {
  hand: 'as it was set here',
  header: "by the file's header",
  format: "by the format's own unit",
  height: 'guessed from its height',
} as const;
