import { mirrorRole, type Definition } from '../../definition/definition';
import type { Contact, Motion } from '../motion';
import { mapFrameArrays } from './frame-arrays';

const OTHER_PART: Readonly<Record<Contact['part'], Contact['part']>> = {
  leftFoot: 'rightFoot',
  rightFoot: 'leftFoot',
  leftHand: 'rightHand',
  rightHand: 'leftHand',
};

/**
 * Mirror image of a motion across the body's middle plane: (x, y, z) to (-x, y, z), so a turn (x, y, z, w) becomes
 * (x, -y, -z, w), left for right. What belongs to the source's own skeleton alone has no mirror image and is left out.
 */
export function mirrorMotion(motion: Motion, definition: Definition): Motion {
  const otherRole = (role: string) => mirrorRole(definition, role);
  const otherLine = (id: string): string => {
    const first = definition.lines.find((line) => line.id === id)?.roles[0];
    const partner = first && otherRole(first);
    return definition.lines.find(({ roles }) => partner && roles.includes(partner))?.id ?? id;
  };
  const names = new Set(motion.morphs.map(({ name }) => name));
  const mirrored = mapFrameArrays({ ...motion, own: null }, ({ values, size, isTurns }) => {
    const out = values.slice();
    if (isTurns)
      for (let at = 0; at < out.length; at += 4) {
        out[at + 1] = -out[at + 1];
        out[at + 2] = -out[at + 2];
      }
    else if (size === 3) for (let at = 0; at < out.length; at += 3) out[at] = -out[at];
    return out;
  });
  return {
    ...mirrored,
    slots: motion.slots.map((slot) => ({
      ...slot,
      line: otherLine(slot.line),
      role: slot.role === null ? null : otherRole(slot.role),
    })),
    limbs: Object.fromEntries(Object.entries(motion.limbs).map(([role, length]) => [otherRole(role), length])),
    contacts: motion.contacts.map((contact) => ({ ...contact, part: OTHER_PART[contact.part] })),
    shifts: mirrored.shifts.map((shift) => ({ ...shift, role: otherRole(shift.role) })),
    morphs: mirrored.morphs.map((morph) => {
      const other = morph.name.replace(/left|right/i, (side) => sideLike(side));
      return names.has(other) ? { ...morph, name: other } : morph;
    }),
  };
}

/** "Left" becomes "Right", "left" "right". */
function sideLike(side: string): string {
  const other = side.toLowerCase() === 'left' ? 'right' : 'left';
  return side[0] === side[0].toUpperCase() ? other[0].toUpperCase() + other.slice(1) : other;
}
