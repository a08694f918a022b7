'use client';

import { useState } from 'react';
import { HouseChoiceSchema, type HouseChoice, type MotionView } from '@/contract/motions';
import {
  CARRIED_THINGS,
  CARRYING_HANDS,
  DIRECTIONS,
  GAIT_SLIDERS,
  type GaitSettings,
  type GaitSlider,
} from '@/core/house/gait-settings';
import { HOUSE_SET } from '@/core/house/house-set';
import { slugOf } from '@/core/text/slug';
import { download } from '@/ui/download';
import { capitalised } from '@/ui/text';
import { settingsText } from './chosen-motion';
import { SaveOnShelf } from './SaveOnShelf';
import { writeDrill } from './use-drill-address';
import type { Shelf } from './use-shelf';

interface GaitPanelProps {
  readonly house: HouseChoice;
  /** The motion of the shelf that these are the settings of; null for the house set's own. */
  readonly motion: MotionView | null;
  readonly remarks: readonly string[];
  readonly shelf: Shelf;
}

const entryOf = (id: string) => HOUSE_SET.find((each) => each.id === id);

/** Settings of a file that was saved here; says why, where it holds none for this motion. */
async function readSettings(
  file: File,
  wanted: string,
): Promise<{ readonly settings: GaitSettings } | { readonly problem: string }> {
  if (file.size > MOST_BYTES) return { problem: `${file.name} is no file of settings.` };
  const text = await file.text();
  let json: unknown = null;
  try {
    json = JSON.parse(text);
  } catch {
    return { problem: `${file.name} is no JSON.` };
  }
  const read = HouseChoiceSchema.safeParse(json);
  if (!read.success || !read.data.settings) return { problem: `${file.name} holds no settings of a walk or run.` };
  if (read.data.entry !== wanted)
    return {
      problem: `${file.name} holds settings of "${entryOf(read.data.entry)?.label ?? read.data.entry}", not of this motion.`,
    };
  return { settings: read.data.settings };
}

const MOST_BYTES = 64 * 1024;

/** Settings of a walk or run; the character follows while they are moved. */
export function GaitPanel({ house, motion, remarks, shelf }: GaitPanelProps) {
  const entry = entryOf(house.entry);
  const { settings } = house;
  const [problem, setProblem] = useState<string | null>(null);
  const base = (motion?.kind === 'house' ? motion.house.settings : null) ?? entry?.settings;
  if (!entry || !settings || !base) return null;
  const change = (patch: Partial<GaitSettings>) => writeDrill({ set: settingsText(base, { ...settings, ...patch }) });
  const isChanged = settingsText(base, settings) !== null;
  const name = motion?.name ?? entry.label;
  return (
    <section aria-label="Settings" className="border-t border-base-300 px-4 py-2 text-[13px]">
      <div className="flex items-baseline gap-2">
        <h2 className="min-w-0 flex-1 truncate text-sm font-semibold">{motion ? 'Settings' : entry.label}</h2>
        {isChanged && (
          <button className="btn btn-ghost btn-xs" onClick={() => writeDrill({ set: null })}>
            Put back
          </button>
        )}
        <button
          className="btn btn-ghost btn-xs"
          title="The settings as JSON"
          onClick={() => download(JSON.stringify(house, null, 2), `${slugOf(name)}.json`, 'application/json')}
        >
          Save as a file
        </button>
        <label className="btn btn-ghost btn-xs" title="Settings that were saved as a file">
          Open a file
          <input
            type="file"
            className="sr-only"
            aria-label="Settings file"
            accept=".json,application/json"
            onChange={(event) => {
              const file = event.target.files?.[0];
              event.target.value = '';
              if (file)
                void readSettings(file, house.entry).then((read) => {
                  setProblem('problem' in read ? read.problem : null);
                  if ('settings' in read) writeDrill({ set: settingsText(base, read.settings) });
                });
            }}
          />
        </label>
      </div>
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
      {!motion && <p className="quiet">{entry.note}.</p>}
      <div className="mt-1 grid gap-0.5">
        {GAIT_SLIDERS.map((slider) => (
          <SliderRow
            key={slider.id}
            slider={slider}
            value={settings[slider.id]}
            isChanged={settings[slider.id] !== base[slider.id]}
            onChange={(value) => change({ [slider.id]: value })}
          />
        ))}
      </div>
      <div className="mt-1.5 grid grid-cols-3 gap-2">
        <SelectField
          label="Way"
          value={settings.direction}
          values={DIRECTIONS}
          onChange={(direction) => change({ direction })}
        />
        <SelectField
          label="Hands held"
          value={settings.hands}
          values={CARRYING_HANDS}
          onChange={(hands) => change({ hands })}
        />
        <SelectField
          label="On a"
          value={settings.holds}
          values={CARRIED_THINGS}
          isOff={settings.hands === 'none'}
          onChange={(holds) => change({ holds })}
        />
      </div>
      {remarks.map((remark) => (
        <p key={remark} role="status" className="mt-1.5 text-warning">
          {remark}
        </p>
      ))}
      <div className="mt-1.5 flex flex-wrap items-center gap-2">
        {motion && isChanged && (
          <button
            className="btn btn-primary btn-xs"
            onClick={() => void shelf.change(motion, { house }).then(() => writeDrill({ set: null }))}
          >
            Save
          </button>
        )}
        <SaveOnShelf house={house} suggested={motion ? `${name}, other` : name} shelf={shelf} />
      </div>
    </section>
  );
}

/** What a motion of the house set that has no settings is, and how it comes onto the shelf. */
export function HouseNote({ entry: id, shelf }: { readonly entry: string; readonly shelf: Shelf }) {
  const entry = entryOf(id);
  if (!entry) return null;
  return (
    <section aria-label="House motion" className="border-t border-base-300 px-4 py-2 text-[13px]">
      <h2 className="text-sm font-semibold">{entry.label}</h2>
      <p className="quiet mb-1.5">{entry.note}.</p>
      <SaveOnShelf house={{ entry: entry.id, settings: null }} suggested={entry.label} shelf={shelf} />
    </section>
  );
}

interface SliderRowProps {
  readonly slider: GaitSlider;
  readonly value: number;
  readonly isChanged: boolean;
  readonly onChange: (value: number) => void;
}

function SliderRow({ slider, value, isChanged, onChange }: SliderRowProps) {
  const { id, label, unit, min, max, step } = slider;
  const [typed, setTyped] = useState<string | null>(null);
  const digits = step >= 1 ? 0 : step >= 0.1 ? 1 : step >= 0.01 ? 2 : 3;
  const commit = () => {
    const wanted = typed === null ? NaN : Number(typed);
    if (typed !== null && typed.trim() !== '' && Number.isFinite(wanted))
      onChange(Math.min(max, Math.max(min, id === 'cycles' ? Math.round(wanted) : wanted)));
    setTyped(null);
  };
  return (
    <div className="grid grid-cols-[1fr_84px_50px_22px] items-center gap-1.5">
      <label htmlFor={`gait-${id}`} className={`truncate ${isChanged ? 'font-semibold' : ''}`}>
        {label}
      </label>
      <input
        id={`gait-${id}`}
        type="range"
        className="range range-xs"
        min={min}
        max={max}
        step={step}
        value={value}
        onChange={(event) => onChange(Number(event.target.value))}
      />
      <input
        aria-label={`${label}, number`}
        inputMode="decimal"
        className="input w-full px-1 text-right tabular-nums input-xs"
        value={typed ?? value.toFixed(digits)}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
        }}
      />
      <span className="quiet">{unit}</span>
    </div>
  );
}

interface SelectFieldProps<Value extends string> {
  readonly label: string;
  readonly value: Value;
  readonly values: readonly Value[];
  readonly isOff?: boolean;
  readonly onChange: (value: Value) => void;
}

function SelectField<Value extends string>({ label, value, values, isOff, onChange }: SelectFieldProps<Value>) {
  return (
    <label className="grid gap-0.5">
      <span className="quiet">{label}</span>
      <select
        className="select w-full select-xs"
        value={value}
        disabled={isOff}
        onChange={(event) => onChange(event.target.value as Value)}
      >
        {values.map((each) => (
          <option key={each} value={each}>
            {capitalised(each)}
          </option>
        ))}
      </select>
    </label>
  );
}
