import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import { makeBiped } from './match/make-rig';
import { TUNING_HABITS } from './match/naming';
import { Random } from './match/random';
import { TUNING_TOPOLOGIES } from './match/topologies';
const sparse = TUNING_TOPOLOGIES.find(t=>t.name==='sparse')!;
let bad=0, n=0;
for (const skin of [0, 1]) for (const spine of [[1,2],[2,3]] as const) for (const h of TUNING_HABITS.filter(h=>['opaque','nameless'].includes(h.id))) for (let i=0;i<150;i++) {
  n++; const made = makeBiped(new Random(i*31+7), { ...sparse, name: 'few', spine, neck: [0,1], skin, digits: [0,0], toes: 0.15, hair: 0.4, root: 0.1 } as never, h);
  const m = matchBones(made.rig, QUAY);
  if (!m.creature.isHumanoid) { bad++; if (bad<14) console.log(i, h.id, spine.join(), skin, made.rig.bones.length, m.creature.reasons[0]); }
}
console.log(bad, n);
