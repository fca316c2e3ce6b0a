/** Lists travel through forms as JSON; what is none stays text, and fails the check that follows. */
export function fromForm({ value }: { value: unknown }): unknown {
  if (typeof value !== 'string') return value;
  try {
    return JSON.parse(value) as unknown;
  } catch {
    return value;
  }
}

/** A form says nothing with an empty field. */
export const ID_OR_EMPTY = /^(|[0-9a-f-]{36})$/i;
