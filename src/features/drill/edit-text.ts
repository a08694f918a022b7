import type { MotionEdit } from '@/core/motion/edits/motion-edit';

/** A step of editing as a person reads it. */
export function editText(edit: MotionEdit, nameOf: (motionId: string) => string): string {
  switch (edit.kind) {
    case 'trim':
      return `Frames ${edit.from} to ${edit.to}`;
    case 'loop':
      return `Loop of frames ${edit.from} to ${edit.to}, blended over ${edit.blend}`;
    case 'append':
      return `Then ${nameOf(edit.motionId)}, blended over ${edit.blend}${edit.isMatching ? ' where the feet match' : ''}`;
    case 'hold':
      return `Held at frame ${edit.at} for ${edit.frames} frames`;
    case 'mirror':
      return 'Mirrored, left for right';
    case 'reverse':
      return 'Backwards';
    case 'speed':
      return `${Number(edit.factor.toFixed(3))} × as fast`;
    case 'rate':
      return `${Number(edit.framesPerSecond.toFixed(3))} frames a second`;
    case 'contacts':
      return `Contacts set by hand (${edit.contacts.length})`;
  }
}
