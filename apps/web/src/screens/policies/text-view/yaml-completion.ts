import type { JsonSchema } from '@lantern/contracts';

/** What can stand at a place of a YAML text, and from where it would replace what was typed. */
export interface Completions {
  readonly from: number;
  readonly options: readonly { readonly label: string; readonly detail?: string; readonly apply: string }[];
}

/** Names that references may hold, by the field they stand in. */
export type ReferenceNames = Readonly<Record<string, readonly string[]>>;

/** A line as far as its place matters: the column its key begins at, its key, its value, and the dashes before it. */
interface Line {
  readonly column: number;
  readonly dashes: readonly number[];
  readonly key: string | null;
  readonly value: string;
  readonly keyStart: number;
  readonly valueStart: number;
}

/** Completes fields and values at `position` by a schema, going by how lines are indented. */
export function completionsAt(
  text: string,
  position: number,
  schema: JsonSchema,
  names: ReferenceNames,
): Completions | null {
  const before = text.slice(0, position);
  const lineStart = before.lastIndexOf('\n') + 1;
  const current = readLine(before.slice(lineStart));
  const above = text.slice(0, lineStart).split('\n').slice(0, -1).map(readLine);
  const below = text.slice(position).split('\n').slice(1).map(readLine);
  const place = placeOf(current, above);
  const siblings = siblingsOf(current, above, below);
  const here = resolveAt(schema, place);
  if (!here) return null;
  const fields = fieldsOf(chosenBranch(here, siblings, schema), schema);
  if (current.key === null) return ofFields(fields, siblings, lineStart + current.keyStart);
  const field = fields[current.key];
  if (!field) return null;
  const values = valuesOf(field, schema, names[current.key] ?? []);
  return values.length === 0
    ? null
    : {
        from: lineStart + current.valueStart,
        options: values.map((value) => ({ label: value, apply: quoted(value) })),
      };
}

function readLine(line: string): Line {
  const opening = /^(?:\s*-\s)*\s*/.exec(line)?.[0] ?? '';
  const dashes = [...opening.matchAll(/-/g)].map((match) => match.index);
  const rest = line.slice(opening.length);
  const keyed = /^([A-Za-z]+):(\s*)(.*)$/.exec(rest);
  const column = opening.length;
  if (!keyed) return { column, dashes, key: null, value: rest, keyStart: column, valueStart: column };
  const [, key = '', space = '', value = ''] = keyed;
  const valueStart = column + key.length + 1 + space.length;
  return { column, dashes, key, value, keyStart: column, valueStart };
}

type Step = { readonly key: string } | { readonly item: true };

/** Keys and lists that lead to the mapping a line stands in, outermost first. */
function placeOf(current: Line, above: readonly Line[]): Step[] {
  const steps: Step[] = [];
  let column = current.column;
  let dashes = [...current.dashes];
  for (let index = above.length; index >= 0; index -= 1) {
    const line = index === above.length ? current : above[index];
    if (!line) continue;
    if (index < above.length && line.column < column && line.key !== null) {
      steps.unshift({ key: line.key });
      column = line.column;
      dashes = [...line.dashes];
    } else if (
      index < above.length &&
      line.column === column &&
      line.dashes.length > 0 &&
      dashes.length === 0
    ) {
      dashes = [...line.dashes];
    }
    while (dashes.length > 0 && (index === above.length || line.dashes.length > 0)) {
      steps.unshift({ item: true });
      // What holds the list may stand in the column of its dash.
      column = (dashes.pop() ?? 0) + 1;
    }
  }
  return steps;
}

/** Keys of the same mapping, with their values. */
function siblingsOf(current: Line, above: readonly Line[], below: readonly Line[]): Map<string, string> {
  const found = new Map<string, string>();
  const take = (line: Line): void => {
    if (line.column === current.column && line.key !== null) found.set(line.key, line.value.trim());
  };
  if (current.dashes.length === 0) {
    for (const line of [...above].reverse()) {
      if (line.value === '' && line.key === null) continue;
      if (line.column < current.column) break;
      take(line);
      if (line.column === current.column && line.dashes.length > 0) break;
    }
  }
  for (const line of below) {
    if (line.column < current.column || (line.column === current.column && line.dashes.length > 0)) break;
    take(line);
  }
  return found;
}

function follow(schema: JsonSchema, root: JsonSchema): JsonSchema {
  const reference = schema['$ref'];
  if (typeof reference === 'string') {
    const defs = root['$defs'] as Readonly<Record<string, JsonSchema>>;
    return follow(defs[reference.replace('#/$defs/', '')] ?? {}, root);
  }
  const some = schema['anyOf'] as readonly JsonSchema[] | undefined;
  return some?.[0] ? follow(some[0], root) : schema;
}

/** The schema of the mapping at a place. Where a place lies behind alternatives, any of them with the field will do. */
function resolveAt(root: JsonSchema, place: readonly Step[]): JsonSchema | null {
  let here: JsonSchema | null = follow(root, root);
  for (const step of place) {
    if (!here) return null;
    if ('item' in step) here = here['items'] ? follow(here['items'] as JsonSchema, root) : null;
    else {
      const field: JsonSchema | undefined = fieldsOf(here, root)[step.key];
      here = field ? follow(field, root) : null;
    }
  }
  return here;
}

/** Of alternatives by kind the one that the kind beside it chooses. */
function chosenBranch(
  schema: JsonSchema,
  siblings: ReadonlyMap<string, string>,
  root: JsonSchema,
): JsonSchema {
  const branches = schema['oneOf'] as readonly JsonSchema[] | undefined;
  const kind = siblings.get('kind');
  const chosen = branches?.find((branch) => fieldsOf(branch, root)['kind']?.['const'] === kind);
  return chosen ?? schema;
}

/** Fields of a mapping; of alternatives all there are, `kind` with every kind. */
function fieldsOf(schema: JsonSchema, root: JsonSchema): Readonly<Record<string, JsonSchema>> {
  const own = schema['properties'] as Readonly<Record<string, JsonSchema>> | undefined;
  const branches = schema['oneOf'] as readonly JsonSchema[] | undefined;
  if (!branches) return own ?? {};
  const kinds = branches.map((branch) => fieldsOf(branch, root)['kind']?.['const']).filter(Boolean);
  const all = Object.assign({}, ...branches.map((branch) => fieldsOf(branch, root))) as Record<
    string,
    JsonSchema
  >;
  return kinds.length > 0 ? { ...all, kind: { enum: kinds } } : all;
}

function ofFields(
  fields: Readonly<Record<string, JsonSchema>>,
  siblings: ReadonlyMap<string, string>,
  from: number,
): Completions | null {
  const options = Object.entries(fields)
    .filter(([name]) => !siblings.has(name))
    .map(([name, field]) => ({
      label: name,
      detail: String(field['description'] ?? ''),
      apply: `${name}: `,
    }));
  return options.length === 0 ? null : { from, options };
}

function valuesOf(field: JsonSchema, root: JsonSchema, names: readonly string[]): string[] {
  const schema = follow(field, root);
  if (names.length > 0) return [...names];
  if (Array.isArray(schema['enum'])) return schema['enum'].map(String);
  return schema['type'] === 'boolean' ? ['true', 'false'] : [];
}

/** A plain word as it is; anything that YAML would read otherwise in quotes. */
function quoted(value: string): string {
  return /^[\p{L}\p{N}][\p{L}\p{N} .()/-]*$/u.test(value) && !/^(true|false|null|~|[\d.]+)$/.test(value)
    ? value
    : value === 'true' || value === 'false'
      ? value
      : JSON.stringify(value);
}
