import type { Definition } from '../definition/definition';
import type { Rig } from '../rig/rig';
import type { EvidenceSwitches } from './context/context';
import { SILENT_NAME } from './verdict/evidence';
import { matchBones, type MatchOptions } from './match-bones';
import type { Match } from './context/match-types';

/** The kinds of evidence, each judged by itself. */
export const EVIDENCE_KINDS = ['names', 'tree', 'place'] as const;
export type EvidenceKind = (typeof EVIDENCE_KINDS)[number];

/** What each kind of evidence alone would answer. */
export type Explanation = Readonly<Record<EvidenceKind, Match['assignments']>>;

/** What a worker needs to make an explanation. */
export interface ExplainRequest {
  readonly rig: Rig;
  readonly definition: Definition;
  readonly options: Pick<MatchOptions, 'facing' | 'sideMarks'>;
}

const ALONE: Readonly<Record<EvidenceKind, EvidenceSwitches>> = {
  names: { names: true, tree: false, place: false },
  tree: { names: false, tree: true, place: false },
  place: { names: false, tree: false, place: true },
};

/** Matches a rig three times more, by one kind of evidence at a time. */
export function explainMatch({ rig, definition, options }: ExplainRequest): Explanation {
  const alone = (kind: EvidenceKind) => matchBones(rig, definition, { ...options, use: ALONE[kind] }).assignments;
  // Without a word in the name an answer by names is what was left over, not what a name says.
  const named = Object.entries(alone('names')).filter(([, { evidence }]) => !evidence.includes(SILENT_NAME));
  return { names: Object.fromEntries(named), tree: alone('tree'), place: alone('place') };
}

/** How sure one kind of evidence alone is that a bone has a role, 0 to 1; 0 for a bone that it does not consider. */
export function confidenceBy(explanation: Explanation, kind: EvidenceKind, role: string, bone: number): number {
  const answer = explanation[kind][role];
  if (!answer) return 0;
  if (answer.boneIndex === bone) return answer.confidence;
  return answer.runnersUp.find(({ boneIndex }) => boneIndex === bone)?.confidence ?? 0;
}

/** Less than this is a guess, which one kind of evidence makes even where it has nothing to say. */
const LEAST = 0.5;

/** In a sentence: which kinds of evidence speak for a bone, and which would take another one. */
export function explainInWords(
  explanation: Explanation,
  role: string,
  bone: number,
  nameOf: (bone: number) => string,
): string {
  const answerOf = (kind: EvidenceKind) => {
    const answer = explanation[kind][role];
    return answer && answer.confidence >= LEAST ? answer.boneIndex : null;
  };
  const speaks = EVIDENCE_KINDS.filter((kind) => answerOf(kind) === bone);
  const others = EVIDENCE_KINDS.flatMap((kind) => {
    const answer = answerOf(kind);
    return answer !== null && answer !== bone ? [`${LABELS[kind]} alone would take ${nameOf(answer)}`] : [];
  });
  const silent = EVIDENCE_KINDS.filter((kind) => answerOf(kind) === null);
  const list = (kinds: readonly EvidenceKind[]) => kinds.map((kind) => LABELS[kind]).join(' and ');
  const sentences = [
    speaks.length === EVIDENCE_KINDS.length
      ? 'Names, tree and place each lead here by themselves'
      : speaks.length > 0
        ? `${list(speaks)} ${speaks.length > 1 ? 'lead' : 'leads'} here by ${speaks.length > 1 ? 'themselves' : 'itself'}`
        : 'No kind of evidence leads here by itself; together they do',
    ...others,
    ...(silent.length > 0 ? [`${list(silent)} alone ${silent.length > 1 ? 'are' : 'is'} sure of nothing`] : []),
  ];
  return `${sentences.map((sentence, at) => (at === 0 ? sentence[0].toUpperCase() + sentence.slice(1) : sentence)).join('; ')}.`;
}

const LABELS: Readonly<Record<EvidenceKind, string>> = { names: 'the name', tree: 'the tree', place: 'the place' };
