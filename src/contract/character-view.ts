import type { Assessment } from '@/core/checks/assessment';
import type { FirstPass } from '@/core/match/first-pass';
import type { Definition } from '@/core/definition/definition';
import type { EngineProfile } from '@/core/profile/profile';
import type { Finding } from '@/core/checks/finding';
import type { Problem } from '@/core/errors/yarvo-error';
import type { FitState } from '@/core/fit/fit';
import type { RoleDeviation } from '@/core/posture/measure-posture';
import type { PostureSummary } from '@/core/posture/classify-posture';
import type { Waived } from '@/core/waivers/waiver';
import type { IntakeSheet } from '@/core/intake/intake-sheet';
import type { Rig } from '@/core/rig/rig';

export type CharacterState = 'new' | 'in work' | 'needs a look' | 'ready' | 'handed off' | 'reopened';

/** One line of the roster. */
export interface RosterRow {
  readonly id: string;
  readonly name: string;
  readonly fileName: string;
  readonly state: CharacterState;
  readonly kind: Rig['kind'];
  /** Name of its drawing, see `readPortrait`. */
  readonly portrait: string;
  readonly bones: number;
  readonly isHumanoid: boolean;
  readonly doubts: number;
  readonly blockers: number;
  readonly updatedAt: string;
  readonly updatedBy: string;
  readonly isArchived: boolean;
}

/** One page of the roster. */
export interface RosterPage {
  readonly rows: readonly RosterRow[];
  /** How many match, on all pages. */
  readonly total: number;
  /** How many are in the archive. */
  readonly archived: number;
  /** From 1. */
  readonly page: number;
  readonly size: number;
}

export interface HistoryEntry {
  readonly revision: number;
  readonly kind: string;
  readonly description: string;
  readonly author: string;
  readonly at: string;
}

/** A fit as the interface holds it: decisions, where undo leads, and what follows from them. */
export interface FitView {
  readonly revision: number;
  /** Names the reading of the files that the state speaks of, and the profile that it is judged by. */
  readonly readingKey: string;
  readonly state: FitState;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  /** Newest first. */
  readonly history: readonly HistoryEntry[];
  readonly deviations: readonly RoleDeviation[];
  readonly posture: PostureSummary;
  readonly findings: readonly Finding[];
  readonly waived: readonly Waived<Finding>[];
  readonly reopened: readonly Waived<Finding>[];
}

export interface HandoffView {
  readonly version: number;
  readonly fileName: string;
  readonly author: string;
  readonly at: string;
  readonly sizeBytes: number;
  readonly manifest: unknown;
}

/** A pack whose character was deleted. */
export interface LeftPack {
  readonly characterId: string;
  readonly characterName: string;
  readonly version: number;
  readonly fileName: string;
  readonly author: string;
  readonly at: string;
}

/** A definition that a character can be fitted to. */
interface DefinitionEntry {
  readonly id: string;
  readonly label: string;
  readonly hasFit: boolean;
  /** Whether it is the one that is meant where none is named. */
  readonly isStudios: boolean;
}

export interface CharacterView extends FirstPass {
  readonly id: string;
  readonly name: string;
  readonly fileName: string;
  readonly mainPath: string;
  readonly files: readonly { readonly path: string; readonly purpose: 'given' | 'supplied' }[];
  /** Hash of the canonical GLB that the stage draws. */
  readonly modelHash: string;
  readonly sheet: IntakeSheet;
  /** Per node of the rig as it stands: its index in the file as read, below -1 for a joint that a repair made; null where they are the same. */
  readonly origins: readonly number[] | null;
  readonly sizeBytes: number;
  readonly sha256: string;
  readonly state: CharacterState;
  readonly isArchived: boolean;
  readonly createdBy: string;
  readonly createdAt: string;
  readonly rig: Rig;
  /** What the fit is to, and what it is judged by. */
  readonly definition: Definition;
  /** Those that the studio has, by label; a character may have a fit to each. */
  readonly definitions: readonly DefinitionEntry[];
  readonly profile: EngineProfile;
  /** Engine profiles that the studio has, by label. */
  readonly profiles: readonly { readonly id: string; readonly label: string }[];
  readonly fit: FitView;
  readonly handoffs: readonly HandoffView[];
}

export interface Added {
  readonly id: string;
  readonly name: string;
  readonly fileName: string;
  /** Path of its model in the upload. */
  readonly path: string;
  /** It was kept by an earlier try whose sender got no answer; nothing new was made. */
  readonly isAlreadyThere?: boolean;
  /** A character that was made of the same file minutes ago. */
  readonly sameAs?: { readonly id: string; readonly name: string };
}

/** What stands behind a character, counted: what deleting it would remove. */
export interface CharacterRemains {
  readonly files: number;
  readonly fileBytes: number;
  readonly readings: number;
  readonly fits: number;
  /** Steps of the fits' histories. */
  readonly changes: number;
  readonly packs: number;
  /** Characters that were joined into it; they come back to the roster. */
  readonly parts: number;
}

/** What became of an upload. */
export interface IntakeOutcome {
  readonly characters: readonly Added[];
  /** Models that could not be read, each with its reason. */
  readonly refused: readonly { readonly path: string; readonly problem: Problem }[];
}

/** Characters that look like parts of another one. */
export interface JoinProposal {
  readonly bodyId: string;
  readonly bodyName: string;
  readonly parts: readonly {
    readonly id: string;
    readonly name: string;
    readonly shared: number;
    readonly total: number;
  }[];
}

/** The parts of an assessment that travel to the interface. */
export const assessmentView = ({ measure, summary, findings, waived, reopened }: Assessment) => ({
  deviations: measure.deviations,
  posture: summary,
  findings,
  waived,
  reopened,
});
