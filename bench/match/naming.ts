import type { Draft } from './draft';
import type { Random } from './random';

/** How a made rig's bones are called. */
export interface NamingHabit {
  readonly id: string;
  readonly hasSides: boolean;
  readonly name: (drafts: readonly Draft[], random: Random) => string[];
}

type Words = Readonly<Record<string, string>>;

const DIGIT_PARTS = ['thumb', 'index', 'middle', 'ring', 'little'];

/** English as many write it; other tables only state what differs. */
const PLAIN: Words = {
  root: 'root',
  hips: 'hips',
  spine: 'spine',
  chest: 'chest',
  neck: 'neck',
  head: 'head',
  jaw: 'jaw',
  eye: 'eye',
  ear: 'ear',
  headTip: 'head_end',
  clavicle: 'shoulder',
  upperArm: 'upper_arm',
  lowerArm: 'lower_arm',
  hand: 'hand',
  upperArmTwist: 'upper_arm_twist',
  lowerArmTwist: 'lower_arm_twist',
  upperLegTwist: 'upper_leg_twist',
  elbowHelper: 'elbow_helper',
  kneeHelper: 'knee_helper',
  handTarget: 'hand_ik',
  footTarget: 'foot_ik',
  prop: 'weapon',
  metacarpal: 'metacarpal',
  thumb: 'thumb',
  index: 'index',
  middle: 'middle',
  ring: 'ring',
  little: 'little',
  upperLeg: 'upper_leg',
  lowerLeg: 'lower_leg',
  foot: 'foot',
  toes: 'toes',
  toeTip: 'toe_end',
  cloth: 'skirt',
  tail: 'tail',
  hair: 'hair',
};
const JOINTS: Words = {
  ...PLAIN,
  hips: 'pelvis',
  clavicle: 'clavicle',
  upperArm: 'shoulder',
  lowerArm: 'elbow',
  hand: 'wrist',
  upperLeg: 'hip',
  lowerLeg: 'knee',
  foot: 'ankle',
  toes: 'ball',
  elbowHelper: 'elbow_fix',
  kneeHelper: 'knee_fix',
};
const SHORT: Words = {
  ...PLAIN,
  clavicle: 'clav',
  upperArm: 'arm',
  lowerArm: 'forearm',
  upperLeg: 'thigh',
  lowerLeg: 'calf',
  toes: 'toe',
  little: 'pinky',
  spine: 'back',
  upperArmTwist: 'arm_roll',
  lowerArmTwist: 'forearm_roll',
  upperLegTwist: 'thigh_roll',
};
const LIMBS: Words = {
  ...PLAIN,
  clavicle: 'collar',
  upperArm: 'up_arm',
  lowerArm: 'low_arm',
  upperLeg: 'up_leg',
  lowerLeg: 'low_leg',
  toes: 'toe',
  little: 'small',
  spine: 'back',
  upperArmTwist: 'up_arm_roll',
  lowerArmTwist: 'low_arm_roll',
  upperLegTwist: 'up_leg_roll',
};
const ANATOMY: Words = {
  ...PLAIN,
  hips: 'sacrum',
  spine: 'lumbar',
  chest: 'thorax',
  neck: 'cervical',
  head: 'skull',
  jaw: 'mandible',
  clavicle: 'clavicula',
  upperArm: 'humerus',
  lowerArm: 'ulna',
  hand: 'carpus',
  upperLeg: 'femur',
  lowerLeg: 'tibia',
  foot: 'tarsus',
  toes: 'toes',
  elbowHelper: 'ulna_helper',
  kneeHelper: 'tibia_helper',
};
const GERMAN: Words = {
  ...PLAIN,
  root: 'wurzel',
  hips: 'becken',
  spine: 'wirbelsaeule',
  chest: 'brust',
  neck: 'hals',
  head: 'kopf',
  jaw: 'kiefer',
  eye: 'auge',
  ear: 'ohr',
  headTip: 'kopf_ende',
  clavicle: 'schluesselbein',
  upperArm: 'oberarm',
  lowerArm: 'unterarm',
  hand: 'hand',
  upperLeg: 'oberschenkel',
  lowerLeg: 'unterschenkel',
  foot: 'fuss',
  toes: 'zehen',
  toeTip: 'zehen_ende',
  thumb: 'daumen',
  index: 'zeigefinger',
  middle: 'mittelfinger',
  ring: 'ringfinger',
  little: 'kleiner_finger',
  cloth: 'rock',
  tail: 'schwanz',
  hair: 'haar',
  upperArmTwist: 'oberarm_drehung',
  lowerArmTwist: 'unterarm_drehung',
  upperLegTwist: 'oberschenkel_drehung',
};
const SPANISH: Words = {
  ...PLAIN,
  root: 'raiz',
  hips: 'cadera',
  spine: 'columna',
  chest: 'pecho',
  neck: 'cuello',
  head: 'cabeza',
  jaw: 'mandibula',
  eye: 'ojo',
  ear: 'oreja',
  clavicle: 'clavicula',
  upperArm: 'brazo',
  lowerArm: 'antebrazo',
  hand: 'mano',
  upperLeg: 'muslo',
  lowerLeg: 'pantorrilla',
  foot: 'pie',
  toes: 'dedos_del_pie',
  thumb: 'pulgar',
  index: 'indice',
  middle: 'medio',
  ring: 'anular',
  little: 'menique',
  cloth: 'falda',
  tail: 'cola',
  hair: 'pelo',
  upperArmTwist: 'brazo_giro',
  lowerArmTwist: 'antebrazo_giro',
  upperLegTwist: 'muslo_giro',
};
const JAPANESE: Words = {
  ...PLAIN,
  hips: '腰',
  spine: '背骨',
  chest: '胸',
  neck: '首',
  head: '頭',
  eye: '目',
  ear: '耳',
  jaw: '顎',
  clavicle: '肩',
  upperArm: '上腕',
  lowerArm: '肘',
  hand: '手首',
  upperLeg: '太もも',
  lowerLeg: '膝',
  foot: '足首',
  toes: 'つま先',
  thumb: '親指',
  index: '人差指',
  middle: '中指',
  ring: '薬指',
  little: '小指',
  cloth: 'スカート',
  tail: '尻尾',
  hair: '髪',
  upperArmTwist: '上腕捩',
  lowerArmTwist: '肘捩',
  upperLegTwist: '太もも捩',
};

interface Style {
  readonly words: Words;
  readonly left: string;
  readonly right: string;
  readonly at: 'before' | 'after' | 'middle';
  readonly join: (words: readonly string[]) => string;
  readonly prefix: string;
  readonly numberFrom: 0 | 1;
}

const camel = (words: readonly string[]): string =>
  words.map((word) => word.charAt(0).toUpperCase() + word.slice(1)).join('');

function apply(style: Style, drafts: readonly Draft[]): string[] {
  return drafts.map((draft) => {
    const isTip = DIGIT_PARTS.some((digit) => draft.part === `${digit}Tip`);
    const base = style.words[isTip ? draft.part.replace('Tip', '') : draft.part] ?? draft.part;
    const words = base.split('_');
    const number =
      draft.segment !== undefined && !['chest'].includes(draft.part) ? String(draft.segment + style.numberFrom) : null;
    if (number) words.push(number);
    if (isTip) words.push('end');
    const mark = draft.side === 'left' ? style.left : draft.side === 'right' ? style.right : null;
    const marked = !mark
      ? words
      : style.at === 'before'
        ? [mark, ...words]
        : style.at === 'after'
          ? [...words, mark]
          : [words[0], mark, ...words.slice(1)];
    return style.join([...(style.prefix ? [style.prefix] : []), ...marked]);
  });
}

const snake = (words: readonly string[]) => words.join('_');
const dotted = (words: readonly string[]) => words.join('.');
const spaced = (words: readonly string[]) => words.join(' ');
const style = (id: string, parts: Partial<Style>): NamingHabit => {
  const full: Style = {
    words: PLAIN,
    left: 'l',
    right: 'r',
    at: 'after',
    join: snake,
    prefix: '',
    numberFrom: 1,
    ...parts,
  };
  return { id, hasSides: true, name: (drafts) => apply(full, drafts) };
};

const opaque: NamingHabit = {
  id: 'opaque',
  hasSides: false,
  name: (drafts, random) => {
    const k = random.int(3, 90);
    return drafts.map((_, at) => `joint${(at * k + 7) % 997}`);
  },
};
const nameless: NamingHabit = { id: 'nameless', hasSides: false, name: (drafts) => drafts.map(() => '') };
const opaqueSided: NamingHabit = {
  id: 'opaque-sided',
  hasSides: true,
  name: (drafts) => drafts.map((draft, at) => `b${at}${draft.side ? `_${draft.side[0].toUpperCase()}` : ''}`),
};

/** Habits the matcher may be tuned on. */
export const TUNING_HABITS: readonly NamingHabit[] = [
  style('plain', {}),
  style('camel-before', { left: 'Left', right: 'Right', at: 'before', join: camel, words: LIMBS }),
  style('short-middle', { words: SHORT, at: 'middle', prefix: 'gt' }),
  style('joints', { words: JOINTS, numberFrom: 0 }),
  style('german', { words: GERMAN, left: 'links', right: 'rechts' }),
  style('japanese', { words: JAPANESE, left: '左', right: '右', at: 'before', join: (words) => words.join('') }),
  opaque,
  nameless,
];

/** Habits held back from tuning. */
export const HELD_HABITS: readonly NamingHabit[] = [
  style('anatomy', { words: ANATOMY, left: 'L', right: 'R', at: 'before', join: spaced }),
  style('spanish', { words: SPANISH, left: 'izq', right: 'der' }),
  style('dotted-prefix', { words: SHORT, left: 'L', right: 'R', join: dotted, prefix: 'npc07', numberFrom: 0 }),
  style('camel-after', { words: LIMBS, left: 'L', right: 'R', join: camel, prefix: 'rig' }),
  opaque,
  nameless,
  opaqueSided,
];
