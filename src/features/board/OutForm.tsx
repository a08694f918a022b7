'use client';

import { useState } from 'react';
import type { MotionOut } from '@/contract/board';
import { ROOT_COMPONENTS, type RootComponent } from '@/core/motion/carry-options';

interface OutFormProps {
  readonly chosen: Pick<MotionOut, 'characterIds' | 'selection'>;
  /** Characters that are meant. */
  readonly count: number;
  readonly motionKeys: readonly string[];
  readonly onWrite: (wanted: MotionOut) => Promise<void>;
  readonly onCancel: () => void;
}

const FORMATS = [
  ['glb', 'GLB'],
  ['bvh', 'BVH'],
  ['yarvomotion', 'Motion file'],
] as const;
type Format = (typeof FORMATS)[number][0];

/** How the chosen motions are written into a zip. */
export function OutForm({ chosen, count, motionKeys, onWrite, onCancel }: OutFormProps) {
  const [formats, setFormats] = useState<ReadonlySet<Format>>(new Set(['glb']));
  const [hasMesh, setMesh] = useState(false);
  const [template, setTemplate] = useState('{character}/{character}-{motion}-v{version}');
  const [rate, setRate] = useState('');
  const [root, setRoot] = useState<readonly RootComponent[] | null>(null);
  const [isBusy, setBusy] = useState(false);
  const submit = async () => {
    setBusy(true);
    await onWrite({
      ...chosen,
      motionKeys: [...motionKeys],
      formats: FORMATS.flatMap(([format]) => (formats.has(format) ? [format] : [])),
      hasMesh,
      template,
      framesPerSecond: rate === '' ? null : Number(rate),
      root: root === null ? null : [...root],
    });
    setBusy(false);
  };
  return (
    <form
      aria-label="Write out"
      className="grid shrink-0 gap-2 rounded-box border border-primary bg-base-100 px-3 py-2 text-[13px]"
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <fieldset className="flex items-center gap-3">
          <legend className="sr-only">Formats</legend>
          {FORMATS.map(([format, label]) => (
            <label key={format} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={formats.has(format)}
                onChange={() => {
                  const next = new Set(formats);
                  if (!next.delete(format)) next.add(format);
                  setFormats(next);
                }}
              />
              {label}
            </label>
          ))}
        </fieldset>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={hasMesh}
            onChange={() => setMesh(!hasMesh)}
          />
          with the mesh
        </label>
        <label className="flex items-center gap-1.5">
          Rate
          <input
            type="number"
            className="input w-20 input-xs"
            placeholder="its own"
            min={1}
            max={1000}
            step="any"
            value={rate}
            onChange={(event) => setRate(event.target.value)}
          />
        </label>
        <fieldset className="flex items-center gap-3">
          <legend className="sr-only">Root</legend>
          <span className="quiet">Root takes</span>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={root === null}
              onChange={() => setRoot(root === null ? [] : null)}
            />
            as chosen for each
          </label>
          {root !== null &&
            ROOT_COMPONENTS.map((component) => (
              <label key={component} className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  checked={root.includes(component)}
                  onChange={() =>
                    setRoot(
                      ROOT_COMPONENTS.filter((each) =>
                        each === component ? !root.includes(each) : root.includes(each),
                      ),
                    )
                  }
                />
                {component}
              </label>
            ))}
        </fieldset>
      </div>
      <div className="flex flex-wrap items-center gap-3">
        <label className="flex min-w-96 flex-1 items-center gap-1.5">
          Names
          <input
            required
            className="input flex-1 font-mono input-xs"
            maxLength={200}
            value={template}
            onChange={(event) => setTemplate(event.target.value)}
          />
        </label>
        <span className="quiet">A name that was given before gets the next version.</span>
        <button type="button" className="btn ml-auto btn-ghost btn-sm" onClick={onCancel}>
          Cancel
        </button>
        <button className="btn btn-primary btn-sm" disabled={isBusy || formats.size === 0}>
          {isBusy ? 'Queueing …' : `Write ${count} × ${motionKeys.length}`}
        </button>
      </div>
    </form>
  );
}
