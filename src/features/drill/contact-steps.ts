import type { MotionChange, MotionView } from '@/contract/motions';
import type { Contact } from '@/core/motion/motion';

/** Whether a person set the contacts, before the editing or after it. */
export const hasSetContacts = ({ contacts, edits }: MotionView): boolean =>
  edits.length > 0 ? edits[edits.length - 1].kind === 'contacts' : contacts !== null;

/** Contacts count in the frames that are seen: of an edited motion they are its last step. Null takes them back. */
export function contactChange(motion: MotionView, contacts: readonly Contact[] | null): MotionChange {
  const { edits } = motion;
  if (edits.length === 0) return { contacts: contacts && [...contacts] };
  const before = hasSetContacts(motion) ? edits.slice(0, -1) : edits;
  return { edits: contacts ? [...before, { kind: 'contacts', contacts: [...contacts] }] : [...before] };
}
