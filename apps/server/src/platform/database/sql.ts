/** A condition with its values in the order of their places. */
export interface Sql {
  readonly sql: string;
  readonly values: readonly unknown[];
}
