'use client';

import { X } from 'lucide-react';
import { useState } from 'react';
import type { Layer, LayerOf } from '@/core/motion/layer';
import { NumberField } from '@/ui/NumberField';
import { OrderButtons } from '@/ui/OrderButtons';
import { layerText } from './layer-edits';

interface LayerRowProps {
  readonly layer: Layer;
  readonly labelOf: (role: string) => string;
  readonly motionKey: string | null;
  /** Length of the motion that is shown. */
  readonly seconds: number;
  readonly isFirst: boolean;
  readonly isLast: boolean;
  readonly onChange: (layer: Layer) => void;
  readonly onMove: (by: -1 | 1) => void;
  readonly onRemove: () => void;
}

export function LayerRow({
  layer,
  labelOf,
  motionKey,
  seconds,
  isFirst,
  isLast,
  onChange,
  onMove,
  onRemove,
}: LayerRowProps) {
  const [isOpen, setOpen] = useState(false);
  const { name, isOn, motion, span } = layer;
  const isElsewhere = motion !== null && motion !== motionKey;
  return (
    <li>
      <div className={`flex items-center gap-1 ${isElsewhere ? 'quiet' : ''}`}>
        <input
          type="checkbox"
          aria-label={`${name} on`}
          className="checkbox checkbox-xs"
          checked={isOn}
          onChange={(event) => onChange({ ...layer, isOn: event.target.checked })}
        />
        <button
          className="min-w-0 flex-1 truncate text-left hover:text-primary"
          aria-expanded={isOpen}
          title={layerText(layer, labelOf)}
          onClick={() => setOpen(!isOpen)}
        >
          {name}
          {isElsewhere && ' (on another motion)'}
        </button>
        <OrderButtons name={name} isFirst={isFirst} isLast={isLast} onMove={onMove} onRemove={onRemove} />
      </div>
      {isOpen && (
        <div className="my-1 grid gap-1 border-l-2 border-base-300 pl-2">
          <p className="quiet">{layerText(layer, labelOf)}</p>
          <label className="flex items-center gap-2">
            <span className="w-14 shrink-0">Name</span>
            <input
              key={name}
              className="input min-w-0 flex-1 input-xs"
              maxLength={80}
              defaultValue={name}
              onBlur={(event) => {
                const next = event.target.value.trim();
                if (next !== '' && next !== name) onChange({ ...layer, name: next });
              }}
            />
          </label>
          {motionKey !== null && (
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={motion === null}
                onChange={(event) => onChange({ ...layer, motion: event.target.checked ? null : motionKey })}
              />
              on all motions
            </label>
          )}
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={span !== null}
              onChange={(event) =>
                onChange({
                  ...layer,
                  span: event.target.checked ? { from: 0, to: Number(seconds.toFixed(2)), ease: 0.2 } : null,
                })
              }
            />
            comes and goes
          </label>
          {span && (
            <div className="flex items-center gap-1">
              {(['from', 'to', 'ease'] as const).map((end) => (
                <NumberField
                  key={end}
                  label={`${name}, ${end}, seconds`}
                  className="w-16"
                  min={0}
                  max={600}
                  step={0.05}
                  value={span[end]}
                  onChange={(value) => onChange({ ...layer, span: { ...span, [end]: value } })}
                />
              ))}
              <span className="quiet">from, to, ease, s</span>
            </div>
          )}
          <Numbers layer={layer} onChange={onChange} />
        </div>
      )}
    </li>
  );
}

function Numbers({ layer, onChange }: Pick<LayerRowProps, 'layer' | 'onChange'>) {
  switch (layer.kind) {
    case 'figure':
      return (
        <div className="flex items-center gap-1">
          <NumberField
            label={`${layer.name}, height, cm`}
            className="w-18"
            min={-2000}
            max={2000}
            step={0.5}
            value={Number((layer.heightMetres * 100).toFixed(2))}
            onChange={(centimetres) => onChange({ ...layer, heightMetres: centimetres / 100 })}
          />
          cm up
          <NumberField
            label={`${layer.name}, heading, degrees`}
            className="w-16"
            min={-720}
            max={720}
            step={1}
            value={layer.headingDeg}
            onChange={(headingDeg) => onChange({ ...layer, headingDeg })}
          />
          ° left
        </div>
      );
    case 'target':
      return (
        <>
          <Place layer={layer} onChange={onChange} />
          {layer.turn && (
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={layer.holdsTurn ?? false}
                onChange={(event) => onChange({ ...layer, holdsTurn: event.target.checked })}
              />
              keeps its turn too
            </label>
          )}
        </>
      );
    case 'turn':
      return (
        <ul aria-label={`Keys of ${layer.name}`}>
          {layer.keys.map(({ at }) => (
            <li key={at} className="flex items-center gap-2">
              <span className="flex-1 tabular-nums">key at {at.toFixed(2)} s</span>
              {layer.keys.length > 1 && (
                <button
                  className="btn btn-square btn-ghost btn-xs"
                  aria-label={`Remove the key at ${at.toFixed(2)} s`}
                  onClick={() => onChange({ ...layer, keys: layer.keys.filter((key) => key.at !== at) })}
                >
                  <X aria-hidden className="size-3.5" />
                </button>
              )}
            </li>
          ))}
        </ul>
      );
    case 'held':
      return null;
  }
}

const AXES = ['left', 'up', 'ahead'] as const;

function Place({ layer, onChange }: { readonly layer: LayerOf<'target'>; readonly onChange: (layer: Layer) => void }) {
  return (
    <div className="flex items-center gap-1">
      {AXES.map((axis, k) => (
        <NumberField
          key={axis}
          label={`${layer.name}, ${axis}, cm`}
          className="w-16"
          min={-10000}
          max={10000}
          step={0.5}
          value={Number((layer.place[k] * 100).toFixed(1))}
          onChange={(centimetres) => {
            const [x, y, z] = layer.place.map((value, each) => (each === k ? centimetres / 100 : value));
            onChange({ ...layer, place: [x, y, z] });
          }}
        />
      ))}
      <span className="quiet">left, up, ahead, cm</span>
    </div>
  );
}
