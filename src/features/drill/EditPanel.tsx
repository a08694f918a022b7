'use client';

import { useState } from 'react';
import type { MotionView } from '@/contract/motions';
import type { MotionEdit } from '@/core/motion/edits/motion-edit';
import { EditForm, type FormKind } from './EditForm';
import { editText } from './edit-text';
import type { Player } from './player';
import type { Carried } from './use-carried';
import { writeDrill } from './use-drill-address';
import type { Shelf } from './use-shelf';

interface EditPanelProps {
  readonly motion: MotionView;
  readonly carried: Carried;
  readonly player: Player;
  readonly shelf: Shelf;
}

/** What is done to a motion of the shelf, step by step; the file that it came from stays as it is. */
export function EditPanel({ motion, carried, player, shelf }: EditPanelProps) {
  const { edits } = motion;
  const [isOpen, setOpen] = useState(edits.length > 0);
  const [form, setForm] = useState<FormKind | null>(null);
  const [note, setNote] = useState('');
  const { framesPerSecond, frameCount } = carried.info;
  const set = (next: readonly MotionEdit[]) => {
    setForm(null);
    setNote('');
    writeDrill({ range: null, frame: 0 });
    void shelf.change(motion, { edits: [...next] });
  };
  const add = (edit: MotionEdit) => set([...edits, edit]);
  const nameOf = (id: string) => shelf.list?.motions.find((each) => each.id === id)?.name ?? 'a motion that is gone';
  const isWhole = () => player.current.range.from === 0 && player.current.range.to === frameCount - 1;

  async function findLoop() {
    const [best] = await carried.loops();
    if (!best) {
      setNote('No foot comes down twice here. Mark a span with [ and ] and loop that.');
      return;
    }
    player.setRange({ from: best.from, to: best.to });
    player.seek(best.from);
    writeDrill({ range: { from: best.from, to: best.to }, frame: best.from });
    setNote(
      `Frames ${best.from} to ${best.to} are marked: the same foot comes down, its ends ${best.unlikeDeg.toFixed(1)}° apart.`,
    );
    setForm('loop');
  }

  return (
    <section aria-label="Editing" className="border-t border-base-300 px-4 py-2 text-[13px]">
      <div className="flex items-center gap-2">
        <h2 className="flex-1 text-sm font-semibold">
          Editing{' '}
          {edits.length > 0 && (
            <span className="quiet font-normal">
              {edits.length} {edits.length === 1 ? 'step' : 'steps'}
            </span>
          )}
        </h2>
        <button className="btn btn-ghost btn-xs" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? 'Less' : 'More'}
        </button>
      </div>
      {isOpen && (
        <fieldset disabled={shelf.isChanging} className="contents">
          {edits.length > 0 && (
            <ol className="mt-1 grid gap-0.5">
              {edits.map((edit, at) => (
                <li key={`${at} ${edit.kind}`} className="flex items-baseline gap-2">
                  <span className="quiet w-4 text-right tabular-nums">{at + 1}</span>
                  <span className="min-w-0 flex-1">{editText(edit, nameOf)}</span>
                  <button
                    className="btn btn-ghost btn-xs"
                    aria-label={`Take out step ${at + 1}`}
                    onClick={() => set(edits.filter((_, each) => each !== at))}
                  >
                    Take out
                  </button>
                </li>
              ))}
            </ol>
          )}
          <div className="mt-1 flex flex-wrap gap-1">
            <button
              className="btn btn-xs"
              title="Keeps the frames between the marks ([ and ])"
              onClick={() =>
                isWhole()
                  ? setNote('Mark a span first: [ at its start, ] at its end.')
                  : add({ kind: 'trim', from: player.current.range.from, to: player.current.range.to })
              }
            >
              Trim to marks
            </button>
            <button className="btn btn-xs" onClick={() => void findLoop()}>
              Find a loop
            </button>
            {(['loop', 'append', 'hold', 'speed', 'rate'] as const).map((kind) => (
              <button
                key={kind}
                className="btn btn-xs"
                aria-pressed={form === kind}
                onClick={() => setForm(form === kind ? null : kind)}
              >
                {FORM_TEXT[kind]}
              </button>
            ))}
            <button className="btn btn-xs" title="Left for right" onClick={() => add({ kind: 'mirror' })}>
              Mirror
            </button>
            <button className="btn btn-xs" title="From its end to its start" onClick={() => add({ kind: 'reverse' })}>
              Reverse
            </button>
          </div>
          {note && (
            <p role="status" className="mt-1">
              {note}
            </p>
          )}
          {form && (
            <EditForm
              key={form}
              kind={form}
              player={player}
              framesPerSecond={framesPerSecond}
              others={shelf.list?.motions.filter(({ id }) => id !== motion.id) ?? []}
              onAdd={add}
            />
          )}
          <div className="mt-1.5 flex flex-wrap gap-1 border-t border-base-300 pt-1.5">
            <button className="btn btn-ghost btn-xs" onClick={() => void copyOf(motion, shelf)}>
              Make a copy
            </button>
            <button
              className="btn btn-ghost btn-xs"
              title="What this character does, its layers and offsets in it, as a motion of the shelf"
              onClick={() => void keepResult(motion, carried, shelf)}
            >
              Keep the result as a motion
            </button>
          </div>
        </fieldset>
      )}
    </section>
  );
}

const FORM_TEXT: Readonly<Record<FormKind, string>> = {
  loop: 'Loop …',
  append: 'Append …',
  hold: 'Hold …',
  speed: 'Speed …',
  rate: 'Rate …',
};

async function copyOf(motion: MotionView, shelf: Shelf): Promise<void> {
  const [copy] = await shelf.copy(motion);
  if (copy) writeDrill({ motion: copy.id, range: null });
}

async function keepResult(motion: MotionView, carried: Carried, shelf: Shelf): Promise<void> {
  const name = `${motion.name.slice(0, 180)}, kept`;
  const kept = await shelf.keep(await carried.keep(name), name);
  if (kept) writeDrill({ motion: kept.id, frame: 0, range: null, set: null });
}
