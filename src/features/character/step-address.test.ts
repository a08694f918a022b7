import { expect, it } from 'vitest';
import type { CharacterView } from '@/contract/character-view';
import { stepAddress } from './step-address';

const character = (definition: string) =>
  ({
    id: 'c1',
    definition: { id: definition },
    definitions: [
      { id: 'quay', label: 'Quay', hasFit: true, isStudios: true },
      { id: 'quay-a45', label: 'Quay A45', hasFit: true, isStudios: false },
    ],
  }) as unknown as CharacterView;

it('names the definition only where it is not the one that everybody means', () => {
  expect(stepAddress(character('quay'), 'match')).toBe('/characters/c1/match');
  expect(stepAddress(character('quay'), 'match', { role: 'leftHand', bone: 4 })).toBe(
    '/characters/c1/match?role=leftHand&bone=4',
  );
  expect(stepAddress(character('quay-a45'), 'posture')).toBe('/characters/c1/posture?definition=quay-a45');
});
