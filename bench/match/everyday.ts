import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import { makeBiped } from './make-rig';
import { TUNING_HABITS, type NamingHabit } from './naming';
import { ODD_TOPOLOGIES } from './odd-topologies';
import { Random } from './random';
import { emptyTally, score, type Tally } from './tally';
import { TUNING_TOPOLOGIES } from './topologies';

/** Everyday words as they come, without a look at the dialect: some of them mean parts of a body or things all the same. */
const WORDS =
  `apple anchor autumn badge bacon barrel basin basket beacon bench berry blossom board bottle branch brass bread brick bridge broom brush bucket butter cabin cable candle canvas
carpet castle cedar cellar cement chalk cherry chimney cider circle clover coal coffee copper coral cotton cradle crane cream cricket curtain daisy desert dinner drawer dream drum dust eagle
engine fable farm feast fern fiddle field flame flask flour flute fog forest fork fossil fountain frame frost fruit garden garlic gate giant ginger glass globe glove grain grape gravel guitar
hammer harp hearth hedge helmet herb hill hinge honey hood hook horn house ink island ivory jar jewel judge kettle kite knife ladder lake lamp lantern lark laurel leaf lemon letter lily lime
linen locket lumber magnet maple marble market mast meadow melon metal mill mirror moon moss mountain needle north ocean olive onion orchard oven paddle paint panel paper peach pearl pebble
pencil pepper piano pigeon pilot pipe planet plate pocket pond poppy potato pumpkin puppet quill rail rain reed ribbon ring river road rocket roof rope rose saddle sail salt sauce scarf scroll
shadow shelf shell shield shirt shovel silk sketch smoke snow soap spice spoon spring stable stamp stone storm stove straw sugar summer table tape thistle thunder ticket timber toast tower train
trumpet tulip tunnel turnip valley velvet violin wagon walnut wave wheel willow window winter wool yard zinc`.split(
    /\s+/,
  );

const everyday: NamingHabit = {
  id: 'everyday words',
  hasSides: false,
  name: (drafts, random) => drafts.map(() => WORDS[random.int(0, WORDS.length - 1)]),
};

/** The same figures with everyday words for names and with names that say nothing. */
export function runEveryday(perTopology: number): Map<string, Tally> {
  const nothing = TUNING_HABITS.find(({ id }) => id === 'opaque');
  if (!nothing) throw new Error('the naming habit "opaque" is gone');
  const groups = new Map<string, Tally>();
  for (const habit of [everyday, nothing]) {
    const tally = emptyTally();
    for (const [t, topology] of [...TUNING_TOPOLOGIES, ...ODD_TOPOLOGIES].entries()) {
      for (let index = 0; index < perTopology; index++) {
        const made = makeBiped(new Random(4_000_037 + t * 10_007 + index), topology, habit);
        const started = performance.now();
        score(tally, made, matchBones(made.rig, QUAY), performance.now() - started);
      }
    }
    groups.set(habit.id, tally);
  }
  return groups;
}
