import type { AssistantAudience } from '@lantern/core/automations';
import { IsString, MaxLength, MinLength } from 'class-validator';
import type { PersonNotice } from './mail.js';

/** How far a run of a flow, or one step of it, got. */
export type FlowRunState = 'running' | 'waiting' | 'done' | 'stopped';
export type StepRunState = 'done' | 'waiting' | 'refused' | 'failed' | 'not-here';

/** What became of one step that was reached. */
export interface StepRun {
  /** Id of the step in the flow. */
  readonly step: string;
  readonly name: string;
  readonly state: StepRunState;
  /** What was done, or why not. */
  readonly words: string;
  /** The incident that it led to; null for none. */
  readonly incident: number | null;
}

/** One run of a flow: the steps that were reached, in their order. */
export interface FlowRunView {
  readonly id: string;
  readonly startedAt: string;
  readonly endedAt: string | null;
  readonly state: FlowRunState;
  readonly steps: readonly StepRun[];
  /** Steps of the flow, those included that were not reached. */
  readonly stepsInAll: number;
  /** What its owner is told about the movement of the last step; null where there is none, or it went on. */
  readonly notice: PersonNotice | null;
}

/** An assistant that somebody may ask. */
export interface AssistantOffer {
  readonly id: string;
  readonly name: string;
  readonly owner: string;
  readonly audience: AssistantAudience;
  /** Names of what it reads. */
  readonly reads: readonly string[];
}

/** Longest question to an assistant, in characters: some pages. */
export const MAX_QUESTION = 20_000;

export class AskAssistantRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(MAX_QUESTION)
  question: string;
}

export type TalkPartState = 'waiting' | 'went-on' | 'refused' | 'taken-back';

/** A question to an assistant with its answer, as far as they went. */
export interface AssistantTalk {
  readonly id: string;
  readonly assistant: string;
  readonly at: string;
  readonly question: { readonly text: string; readonly state: TalkPartState };
  /** Null while nothing was answered; its text is null while it may not be read. */
  readonly answer: { readonly text: string | null; readonly state: TalkPartState } | null;
  /** What the person is told about the part that went last; null for nothing. */
  readonly notice: PersonNotice | null;
  readonly reported: boolean;
}
