import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { KEYS } from '../../data/keys';
import { type ListedRow, useGroups, useListCounts, useListPages } from '../../data/queue';
import { type DeskState, groupFilter } from './desk-state';
import { filterOf } from '../../shared/filter/filter-of';
import type { ListItem } from './list/queue-list';

/** What the list of the desk shows: rows, or groups of which one is open in place. */
export interface DeskItems {
  readonly items: readonly ListItem[];
  /** The filter that the rows stand under: of the open group, or of the list. */
  readonly rowsFilter: string;
  readonly total: number;
  readonly error: Error | null;
  readonly isLoading: boolean;
  readonly more: (() => void) | undefined;
  readonly toggleGroup: (key: string) => void;
  readonly refresh: () => void;
}

export function useDeskItems(state: DeskState): DeskItems {
  const queries = useQueryClient();
  const [openGroup, setOpenGroup] = useState<string | null>(null);
  const isGrouped = state.group.length > 0 && state.listed === 'incidents';
  const counts = useListCounts(state.filter);
  const groups = useGroups(state.filter, isGrouped ? state.group : []);
  const listed = useMemo(() => {
    const filter = filterOf(state.filter);
    return (groups.data?.groups ?? []).map((group) => {
      const values = group.values.map(({ value }) => value);
      return {
        group,
        key: `group ${JSON.stringify(values)}`,
        filter: groupFilter(filter, state.group, values),
      };
    });
  }, [groups.data, state.filter, state.group]);
  const open = isGrouped ? listed.find(({ key }) => key === openGroup) : undefined;
  const pages = useListPages(
    state.listed,
    open?.filter ?? state.filter,
    state.order,
    !isGrouped || open !== undefined,
  );
  const items = useMemo((): ListItem[] => {
    const rows = (isGrouped && !open ? [] : (pages.data?.pages ?? []))
      .flatMap((page) => page.rows)
      .map((row): ListItem => ({ kind: 'row', key: rowKey(row), row }));
    if (!isGrouped) return rows;
    return listed.flatMap(({ group, key, filter }): ListItem[] => {
      const isOpen = key === open?.key;
      return [{ kind: 'group', key, group, filter, isOpen }, ...(isOpen ? rows : [])];
    });
  }, [isGrouped, listed, open, pages.data]);
  const error = pages.error ?? groups.error;
  return {
    items,
    rowsFilter: open?.filter ?? state.filter,
    total: counts.data?.[state.listed] ?? 0,
    error,
    isLoading: isGrouped ? groups.isPending : pages.isPending,
    more:
      pages.hasNextPage && !pages.isFetchingNextPage && (!isGrouped || open)
        ? () => void pages.fetchNextPage()
        : undefined,
    toggleGroup: (key) => setOpenGroup(key === openGroup ? null : key),
    refresh: () => void queries.invalidateQueries({ queryKey: [KEYS.incidents] }),
  };
}

function rowKey(row: ListedRow): string {
  if ('number' in row) return `incident ${row.number}`;
  return `${'policy' in row ? 'match' : 'movement'} ${row.id}`;
}
