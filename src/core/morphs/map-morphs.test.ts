import { describe, expect, it } from 'vitest';
import { mapMorphs } from './map-morphs';

const pairs = (own: string[], wanted: string[]) => mapMorphs(own, wanted).map((match) => [match.wanted, match.own]);

describe('morph targets', () => {
  it('are mapped by their words, whatever the case, the separators and the order', () => {
    expect(pairs(['Face_Blink.L', 'Face_Blink.R', 'mouth-open'], ['eyeBlinkLeft', 'jawOpen', 'openMouth'])).toEqual([
      ['eyeBlinkLeft', 'Face_Blink.L'],
      ['openMouth', 'mouth-open'],
    ]);
    expect(pairs(['EYE_BLINK_R', 'eye blink l'], ['eyeBlinkLeft', 'eyeBlinkRight'])).toEqual([
      ['eyeBlinkLeft', 'eye blink l'],
      ['eyeBlinkRight', 'EYE_BLINK_R'],
    ]);
  });

  it('of the other side, or with another number, are other targets', () => {
    expect(pairs(['smile_R'], ['smileLeft'])).toEqual([]);
    expect(pairs(['pose_02', 'pose_01'], ['pose1', 'pose2'])).toEqual([
      ['pose1', 'pose_01'],
      ['pose2', 'pose_02'],
    ]);
  });

  it('are read in other languages', () => {
    expect(pairs(['auge_zu_links', 'bocca_aperta'], ['eyeCloseLeft', 'mouthOpen'])).toEqual([
      ['eyeCloseLeft', 'auge_zu_links'],
    ]);
  });

  it('are given out once, the surest first, and say why', () => {
    const found = mapMorphs(['smile', 'smile_wide'], ['smileWide', 'smile']);
    expect(found.map(({ wanted, own }) => [wanted, own])).toEqual([
      ['smileWide', 'smile_wide'],
      ['smile', 'smile'],
    ]);
    expect(found[1]).toMatchObject({ confidence: 1, evidence: 'the same name' });
  });
});
