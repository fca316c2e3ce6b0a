import type { JobRequest, JobView } from '@lantern/contracts/discovery';

/** A job as it is saved. */
export function jobRequestOf({ name, active, definition }: JobView): JobRequest {
  const { places, scope, schedule, ...rest } = definition;
  return {
    ...rest,
    ...{ name, active, places: [...places] },
    schedule: schedule ? { ...schedule } : null,
    scope: {
      ...scope,
      ...{ only: [...scope.only], leaveOut: [...scope.leaveOut], endings: [...scope.endings] },
    },
  };
}

/** Lines of a text field, without empty ones. */
export const linesOf = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '');

/** Endings as people write them: `.DOCX, pdf`. */
export const endingsOf = (text: string): string[] => [
  ...new Set(
    text
      .toLowerCase()
      .split(/[\s,;]+/u)
      .map((ending) => ending.replace(/^[*.]+/u, ''))
      .filter((ending) => ending !== ''),
  ),
];

/** A whole number above nothing; null for anything else, which means no limit. */
export function limitOf(text: string): number | null {
  const value = Number(text.trim());
  return text.trim() !== '' && Number.isFinite(value) && value > 0 ? Math.round(value) : null;
}
