import type { Definition } from '../../definition/definition';
import { YarvoError } from '../../errors/yarvo-error';
import type { Motion } from '../motion';
import { atMoments } from './frame-arrays';
import { appendMotion, loopMotion } from './join-motions';
import { mirrorMotion } from './mirror-motion';
import type { MotionEdit } from './motion-edit';
import { cut } from './placing';

export interface EditContext {
  readonly definition: Definition;
  /** Other motions of the shelf, as they are appended. @throws {YarvoError} where there is none. */
  readonly motionOf: (id: string) => Motion;
  /** Longest motion that is taken, frames. */
  readonly mostFrames: number;
}

/**
 * A motion after some steps of editing; the one that is given stays as it is.
 *
 * @throws {YarvoError} `bad-edit` naming the step, `other-rate`, `other-definition`.
 */
export function editMotion(motion: Motion, edits: readonly MotionEdit[], context: EditContext): Motion {
  return edits.reduce((before, edit, at) => {
    const after = edited(before, edit, context, at + 1);
    if (after.frameCount > context.mostFrames)
      throw badEdit(
        before,
        at + 1,
        `It would come to ${after.frameCount.toLocaleString('en')} frames.`,
        `Keep it to ${context.mostFrames.toLocaleString('en')}.`,
      );
    return after;
  }, motion);
}

function edited(motion: Motion, edit: MotionEdit, context: EditContext, step: number): Motion {
  const last = motion.frameCount - 1;
  const check = (from: number, to: number): void => {
    if (from >= to || to > last)
      throw badEdit(motion, step, `There are no frames ${from} to ${to}.`, `The motion has frames 0 to ${last} here.`);
  };
  switch (edit.kind) {
    case 'trim':
      check(edit.from, edit.to);
      return cut(motion, edit.from, edit.to);
    case 'loop':
      check(edit.from, edit.to);
      if (edit.blend >= edit.to - edit.from)
        throw badEdit(
          motion,
          step,
          `A blend of ${edit.blend} frames is as long as the loop.`,
          'Blend over fewer frames.',
        );
      return loopMotion(motion, edit.from, edit.to, edit.blend);
    case 'append':
      return appendMotion(motion, context.motionOf(edit.motionId), edit, context.definition);
    case 'hold': {
      if (edit.at > last)
        throw badEdit(motion, step, `There is no frame ${edit.at}.`, `The motion has frames 0 to ${last} here.`);
      const held = range(motion.frameCount + edit.frames, (frame) =>
        frame <= edit.at ? frame : Math.max(edit.at, frame - edit.frames),
      );
      return atMoments(motion, held);
    }
    case 'mirror':
      return mirrorMotion(motion, context.definition);
    case 'reverse':
      return atMoments(
        motion,
        range(motion.frameCount, (frame) => last - frame),
      );
    case 'speed':
      return resampled(motion, edit.factor);
    case 'rate': {
      const ratio = motion.framesPerSecond / edit.framesPerSecond;
      return { ...resampled(motion, ratio), framesPerSecond: edit.framesPerSecond };
    }
    case 'contacts': {
      const beyond = edit.contacts.find(({ from, to }) => to < from || to > last);
      if (beyond)
        throw badEdit(
          motion,
          step,
          `A contact lies at frames ${beyond.from} to ${beyond.to}.`,
          `The motion has frames 0 to ${last} here; set the contact anew.`,
        );
      return { ...motion, contacts: edit.contacts };
    }
  }
}

/** Every `step` frames one; the last moment that still lies in the motion is the end. */
function resampled(motion: Motion, step: number): Motion {
  const count = Math.floor((motion.frameCount - 1) / step + 1e-9) + 1;
  return atMoments(
    motion,
    range(count, (frame) => frame * step),
  );
}

const range = (count: number, of: (at: number) => number): number[] => Array.from({ length: count }, (_, at) => of(at));

const badEdit = ({ name }: Motion, step: number, message: string, remedy: string): YarvoError =>
  new YarvoError({ code: 'bad-edit', message, place: `${name}, step ${step}`, remedy });
