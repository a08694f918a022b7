'use client';

import type { Helper } from '@/core/profile/profile';

interface HelperRowsProps {
  readonly title: string;
  readonly help: string;
  readonly rows: readonly Helper[];
  readonly onChange: (rows: Helper[]) => void;
}

const PLACES = [
  ['at', 'at'],
  ['floor', 'on the floor under'],
  ['midway', 'midway between'],
] as const;

/** Bones that handoff adds: name, what they hang on, and where they are put. */
export function HelperRows({ title, help, rows, onChange }: HelperRowsProps) {
  const set = (at: number, row: Helper) => onChange(rows.map((each, index) => (index === at ? row : each)));
  const text = (label: string, value: string, change: (value: string) => void, width = 'w-36') => (
    <input
      aria-label={label}
      className={`input ${width} input-xs`}
      value={value}
      onChange={(event) => change(event.target.value)}
    />
  );
  return (
    <fieldset className="mb-5 text-[13px]">
      <legend className="mb-1 text-base font-semibold">{title}</legend>
      <p className="quiet text-xs">{help} Roles by their ids: leftFoot, head; or root.</p>
      <ul className="mt-1 space-y-1">
        {rows.map((row, at) => (
          // Rows have no names of their own that stay.
          <li key={at} className="flex flex-wrap items-center gap-2">
            {text(`${title}, name ${at + 1}`, row.name, (name) => set(at, { ...row, name }), 'w-44')}
            on
            {text(`${title}, parent ${at + 1}`, row.parent, (parent) => set(at, { ...row, parent }), 'w-28')}
            <select
              aria-label={`${title}, place ${at + 1}`}
              className="select w-auto select-xs"
              value={row.place.kind}
              onChange={(event) => {
                const kind = event.target.value as Helper['place']['kind'];
                const { role } = row.place;
                set(at, { ...row, place: kind === 'midway' ? { kind, role, other: role } : { kind, role } });
              }}
            >
              {PLACES.map(([kind, label]) => (
                <option key={kind} value={kind}>
                  {label}
                </option>
              ))}
            </select>
            {text(
              `${title}, role ${at + 1}`,
              row.place.role,
              (role) => set(at, { ...row, place: { ...row.place, role } }),
              'w-28',
            )}
            {row.place.kind === 'midway' && (
              <Midway title={title} at={at} row={row} place={row.place} onChange={(next) => set(at, next)} />
            )}
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={`Remove ${row.name}`}
              onClick={() => onChange(rows.filter((_, index) => index !== at))}
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="btn mt-1 btn-xs"
        onClick={() => onChange([...rows, { name: '', parent: 'root', place: { kind: 'at', role: 'hips' } }])}
      >
        Add one
      </button>
    </fieldset>
  );
}

interface MidwayProps {
  readonly title: string;
  readonly at: number;
  readonly row: Helper;
  readonly place: Extract<Helper['place'], { kind: 'midway' }>;
  readonly onChange: (row: Helper) => void;
}

function Midway({ title, at, row, place, onChange }: MidwayProps) {
  return (
    <>
      and
      <input
        aria-label={`${title}, other role ${at + 1}`}
        className="input w-28 input-xs"
        value={place.other}
        onChange={(event) => onChange({ ...row, place: { ...place, other: event.target.value } })}
      />
    </>
  );
}
