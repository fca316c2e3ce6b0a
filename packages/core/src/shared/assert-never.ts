/** Ends a switch over a union: a new member fails the build, an unknown value fails loudly at run time. */
export function assertNever(value: never): never {
  throw new Error(`Unexpected value: ${JSON.stringify(value)}`);
}
