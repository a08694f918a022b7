'use client';

import { useState } from 'react';
import { CONTACT_PARTS, type ContactPart } from '@/core/motion/motion';
import type { Layer } from '@/core/motion/layer';
import { newId } from '@/ui/new-id';
import { movedTo } from '@/ui/OrderButtons';
import { useCharacter } from '../../character/character-context';
import type { Carried } from '../use-carried';
import type { PlayerHandle } from '../use-player';
import { CopyLayers } from './CopyLayers';
import { heldOf, targetOf, withLayer } from './layer-edits';
import { LayerRow } from './LayerRow';

const PART_TEXT: Readonly<Record<ContactPart, string>> = {
  leftFoot: 'left foot',
  rightFoot: 'right foot',
  leftHand: 'left hand',
  rightHand: 'right hand',
};
const HELD: Readonly<Record<string, { readonly label: string; readonly lines: RegExp }>> = {
  leftArm: { label: 'the left arm', lines: /^left(Arm|Thumb|Index|Middle|Ring|Little)/ },
  rightArm: { label: 'the right arm', lines: /^right(Arm|Thumb|Index|Middle|Ring|Little)/ },
  trunk: { label: 'trunk and head', lines: /^(trunk|spine|neck|head)/i },
};

interface LayerPanelProps {
  readonly carried: Carried | null;
  readonly handle: PlayerHandle;
  readonly motionKey: string | null;
}

/** Layers of the character: switched, renamed, ordered, taken away; new ones are made from the frame that stands. */
export function LayerPanel({ carried, handle, motionKey }: LayerPanelProps) {
  const { definition, fit, act } = useCharacter();
  const [isCopying, setCopying] = useState(false);
  const { carrying } = fit.state;
  const { layers } = carrying;
  const set = (next: readonly Layer[]) => act({ kind: 'set-carrying', change: { layers: [...next] } });
  const labelOf = (role: string): string => definition.roles.find(({ id }) => id === role)?.label ?? role;
  const on = layers.filter(({ isOn, motion }) => isOn && (motion === null || motion === motionKey)).length;
  const base = () => ({ id: newId(), isOn: true, motion: motionKey, span: null });
  const add = async (what: string): Promise<void> => {
    if (what === 'figure') {
      set(
        withLayer(carrying, { ...base(), kind: 'figure', name: 'Height and heading', heightMetres: 0, headingDeg: 0 })
          .layers,
      );
      return;
    }
    if (!carried || !handle.player) return;
    const stance = await carried.stance(handle.player.current.frame);
    const [kind, of] = what.split(' ');
    if (kind === 'held') {
      const { label, lines } = HELD[of];
      const ids = definition.lines.filter(({ id }) => lines.test(id)).map(({ id }) => id);
      const turns = heldOf(definition, stance, ids);
      set(withLayer(carrying, { ...base(), kind: 'held', name: `Hold ${label}`, turns }).layers);
      return;
    }
    const part = CONTACT_PARTS.find((each) => each === of);
    if (!part) return;
    const layer = targetOf(stance, part, kind === 'world' ? 'world' : 'figure');
    if (!layer) return;
    const name = kind === 'world' ? `Keep the ${PART_TEXT[part]} here` : `Carry the ${PART_TEXT[part]}`;
    set(withLayer(carrying, { ...base(), ...layer, name }).layers);
  };
  return (
    <section aria-label="Layers" className="px-4 py-2 text-[13px]">
      <div className="flex items-baseline gap-2">
        <h2 className="text-sm font-semibold">
          Layers{' '}
          <span className="quiet font-normal">
            {layers.length === 0 ? 'none' : `${on} of ${layers.length} on here`}
          </span>
        </h2>
        {layers.length > 0 && (
          <button
            className="btn ml-auto btn-ghost btn-xs"
            aria-expanded={isCopying}
            onClick={() => setCopying(!isCopying)}
          >
            Copy to …
          </button>
        )}
      </div>
      {isCopying && <CopyLayers layers={layers} onDone={() => setCopying(false)} />}
      <ul className="grid gap-1">
        {layers.map((layer, at) => (
          <LayerRow
            key={layer.id}
            layer={layer}
            labelOf={labelOf}
            motionKey={motionKey}
            seconds={carried ? (carried.info.frameCount - 1) / carried.info.framesPerSecond : 0}
            isFirst={at === 0}
            isLast={at === layers.length - 1}
            onChange={(next) => set(withLayer(carrying, next).layers)}
            onMove={(by) => set(movedTo(layers, at, at + by))}
            onRemove={() => set(layers.filter((each) => each !== layer))}
          />
        ))}
      </ul>
      <select
        aria-label="Add a layer"
        className="select mt-1 w-full select-xs"
        value=""
        disabled={motionKey === null}
        onChange={(event) => void add(event.target.value)}
      >
        <option value="">Add a layer from this frame …</option>
        <optgroup label="Keep at this place">
          {CONTACT_PARTS.map((part) => (
            <option key={part} value={`world ${part}`}>
              the {PART_TEXT[part]}, on the way
            </option>
          ))}
        </optgroup>
        <optgroup label="Carry along with the figure">
          {CONTACT_PARTS.map((part) => (
            <option key={part} value={`figure ${part}`}>
              the {PART_TEXT[part]}
            </option>
          ))}
        </optgroup>
        <optgroup label="Hold this pose">
          {Object.entries(HELD).map(([id, { label }]) => (
            <option key={id} value={`held ${id}`}>
              {label}
            </option>
          ))}
        </optgroup>
        <option value="figure">Height and heading</option>
      </select>
      <p className="quiet mt-1">To turn a bone, pick it on the stage while nothing plays, and drag its handle.</p>
    </section>
  );
}
