import { expect, test } from 'vitest';
import { QUAY, QUAY_A45 } from '../definition/quay';
import { HOUSE_ROLES } from './house-body';
import { sampleHouse } from './house-motion';
import { houseEntry } from './house-set';
import { houseJoints } from './play-motion';
import { placesOf, solveStance } from './solve-stance';

test.each([QUAY, QUAY_A45])('a motion told against $id is played on the house figure as it was made', (definition) => {
  const house = houseEntry('reach').make(null);
  const motion = sampleHouse(house, definition, 10);
  for (const frame of [0, 13, 40, motion.frameCount - 1]) {
    const stance = house.at(frame / 10);
    const places = placesOf(solveStance(stance).turns, stance.hips);
    const joints = houseJoints(motion, definition, frame);
    HOUSE_ROLES.forEach((role, at) => {
      for (let k = 0; k < 3; k++) expect(joints[at * 3 + k], role).toBeCloseTo(places[role][k], 4);
    });
  }
});
