import type { ItemGroup } from '@lantern/core/discovery';
import { useItemGroups } from '../../../data/discovery-follow-up';
import { Loading, Notice } from '../../../ui/notice';
import { GROUP_WORDS, groupName, number, REACH_WORDS, size } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { ago, exactTime } from '../../../wording/times';
import { narrowed } from './narrowed';

interface Props {
  readonly filter: string;
  readonly by: readonly ItemGroup[];
  /** Lists the items of one group. */
  readonly onOpen: (line: string) => void;
}

/** The filtered items gathered by one or two things; pressing a group lists it. */
export function ItemGroupTable({ filter, by, onOpen }: Props) {
  const groups = useItemGroups(filter, by.join(','));
  if (groups.error) return <Notice look="stop">{errorSentence(groups.error)}</Notice>;
  if (!groups.data) return <Loading what="the groups" />;
  const now = new Date();
  return (
    <div className="min-h-0 flex-1 overflow-auto px-3 py-2">
      <table className="w-full text-[12.5px]">
        <caption className="sr-only">
          Items grouped by {by.map((each) => GROUP_WORDS[each]).join(' and ')}
        </caption>
        <thead>
          <tr className="border-b border-rule text-right text-ink-2">
            {by.map((each) => (
              <th key={each} className="text-left font-normal">
                {GROUP_WORDS[each]}
              </th>
            ))}
            <th className="font-normal">Items</th>
            <th className="font-normal">Sensitive</th>
            <th className="font-normal">Size</th>
            <th className="pl-3 text-left font-normal">Widest access</th>
            <th className="font-normal">Last changed</th>
          </tr>
        </thead>
        <tbody>
          {groups.data.rows.map(({ values, items, sensitive, bytes, reach, newest }) => (
            <tr
              key={values.map(({ line }) => line).join('|')}
              className="border-b border-dotted border-rule text-right"
            >
              {values.map(({ name, line }, at) => (
                <td key={line} className="max-w-72 py-1 pr-3 text-left break-words">
                  {at === 0 ? (
                    <button
                      type="button"
                      className="part text-left"
                      onClick={() => onOpen(narrowed(filter, values))}
                    >
                      {groupName(by[at] ?? 'place', name)}
                    </button>
                  ) : (
                    groupName(by[at] ?? 'place', name)
                  )}
                </td>
              ))}
              <td>{number(items)}</td>
              <td>{number(sensitive)}</td>
              <td className="whitespace-nowrap">{size(bytes)}</td>
              <td className="pl-3 text-left">{REACH_WORDS[reach]}</td>
              <td className="whitespace-nowrap" title={newest ? exactTime(newest) : undefined}>
                {newest ? ago(newest, now) : ''}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {groups.data.rows.length === 0 && <p className="py-2">No items match this filter.</p>}
      {groups.data.more && (
        <p className="py-2 text-ink-2">
          The largest {groups.data.rows.length} groups. Narrow the filter for others.
        </p>
      )}
      {by.includes('pattern') && (
        <p className="py-2 text-[12px] text-ink-2">
          An item with findings of two patterns counts in both rows.
        </p>
      )}
    </div>
  );
}
