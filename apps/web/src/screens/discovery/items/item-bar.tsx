import { ITEM_ORDERS, type ItemOrder } from '@lantern/contracts/discovery';
import { ITEM_FIELD_TABLE, ITEM_GROUPS, type ItemField, type ItemGroup } from '@lantern/core/discovery';
import { useFacets } from '../../../data/discovery';
import { FilterLine } from '../../../shared/filter/filter-line';
import { GROUP_WORDS } from '../../../wording/discovery';
import { type Question, SavedQueries } from './saved-queries';

const ORDER_WORDS: Readonly<Record<ItemOrder, string>> = {
  holding: 'What holds most first',
  path: 'By path',
  bytes: 'Largest first',
  changed: 'Changed last first',
  count: 'Most findings first',
};

interface Props {
  readonly question: Question;
  /** Narrows the list, and leaves the rest of the question. */
  readonly onNarrow: (line: string) => void;
  readonly onAsk: (question: Question) => void;
}

/** What is asked of the results: a filter, an order, groups, or a question that was saved. */
export function ItemBar({ question, onNarrow, onAsk }: Props) {
  const { filter, order, by } = question;
  return (
    <div className="flex items-start gap-3 border-b border-rule px-5 py-2">
      <FilterLine
        line={filter}
        fields={ITEM_FIELD_TABLE}
        placeholder='sensitive eq true and reach ge "outside" and not (label pr)'
        useValues={useItemValues}
        onChange={onNarrow}
      />
      {by.length === 0 && (
        <select
          aria-label="Order"
          className="field !w-48 !py-1"
          value={order}
          onChange={({ target }) =>
            onAsk({ ...question, order: ITEM_ORDERS.find((each) => each === target.value) ?? 'holding' })
          }
        >
          {ITEM_ORDERS.map((value) => (
            <option key={value} value={value}>
              {ORDER_WORDS[value]}
            </option>
          ))}
        </select>
      )}
      <GroupChoice by={by} onChange={(next) => onAsk({ ...question, by: next })} />
      <SavedQueries question={question} onOpen={onAsk} />
    </div>
  );
}

/** Groups of the list: none, by one thing, or by two. */
function GroupChoice({
  by,
  onChange,
}: {
  readonly by: readonly ItemGroup[];
  readonly onChange: (by: readonly ItemGroup[]) => void;
}) {
  const [first = '', second = ''] = by;
  const choices = (left: string) => ITEM_GROUPS.filter((each) => each !== left);
  const chosen = (value: string) => ITEM_GROUPS.filter((each) => each === value);
  return (
    <span className="flex shrink-0 gap-1">
      <select
        aria-label="Group by"
        className="field !w-40 !py-1"
        value={first}
        onChange={({ target }) =>
          onChange(target.value === '' ? [] : [...chosen(target.value), ...chosen(second)].slice(0, 2))
        }
      >
        <option value="">No groups</option>
        {choices(second).map((each) => (
          <option key={each} value={each}>
            By {GROUP_WORDS[each].toLowerCase()}
          </option>
        ))}
      </select>
      {first !== '' && (
        <select
          aria-label="Then by"
          className="field !w-36 !py-1"
          value={second}
          onChange={({ target }) => onChange([...chosen(first), ...chosen(target.value)])}
        >
          <option value="">no second group</option>
          {choices(first).map((each) => (
            <option key={each} value={each}>
              then {GROUP_WORDS[each].toLowerCase()}
            </option>
          ))}
        </select>
      )}
    </span>
  );
}

/** Values of a field that begin alike, out of the facets of everything. */
function useItemValues(field: ItemField | null, begun: string): readonly string[] {
  const facets = useFacets('');
  const values = field === null ? [] : (facets.data?.[field] ?? []);
  return values.map(({ name }) => name).filter((name) => name.toLowerCase().startsWith(begun.toLowerCase()));
}
