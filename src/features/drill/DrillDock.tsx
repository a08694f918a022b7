'use client';

import type { MotionView } from '@/contract/motions';
import type { DrillFlag } from '@/core/drill/judge/judge-motion';
import { FlagStrip } from './chart/FlagStrip';
import { StripChart } from './chart/StripChart';
import { contactChange, hasSetContacts } from './contact-steps';
import { ContactLanes } from './ContactLanes';
import { Transport } from './Transport';
import type { Carried } from './use-carried';
import { writeDrill } from './use-drill-address';
import type { JudgedState } from './use-judged';
import type { PlayerHandle } from './use-player';
import type { Shelf } from './use-shelf';

interface DrillDockProps {
  readonly carried: Carried;
  readonly handle: PlayerHandle;
  /** Of the shelf; null for others, whose contacts cannot be changed. */
  readonly motion: MotionView | null;
  readonly shelf: Shelf;
  readonly state: JudgedState;
  readonly chosen: DrillFlag | null;
  readonly onChoose: (flag: DrillFlag) => void;
  readonly onNext: () => void;
}

/** Below the stage: transport, contacts and measures over the same time, and the flag in focus. */
export function DrillDock({ carried, handle, motion, shelf, state, chosen, onChoose, onNext }: DrillDockProps) {
  const { info } = carried;
  const { judged } = state;
  return (
    <>
      <Transport key={carried.key} handle={handle} info={info} />
      <ContactLanes
        handle={handle}
        frameCount={info.frameCount}
        contacts={info.contacts}
        isEdited={motion !== null && hasSetContacts(motion)}
        onChange={motion ? (contacts) => void shelf.change(motion, contactChange(motion, contacts)) : null}
      />
      {judged && (
        <div className="flex h-44 min-h-0 shrink-0 flex-col">
          <StripChart
            handle={handle}
            judged={judged}
            frameCount={info.frameCount}
            isOld={state.isOld}
            chosen={chosen}
            onChoose={onChoose}
            onSeek={(frame) => {
              handle.player?.pause();
              handle.player?.seek(frame);
              writeDrill({ frame });
            }}
          />
        </div>
      )}
      {chosen && <FlagStrip flag={chosen} count={judged?.flags.length ?? 0} onNext={onNext} />}
    </>
  );
}
