import type {
  LedgerDashboardView,
  LedgerDeedView,
  LedgerNewKey,
  LedgerRecords,
  LedgerRecordView,
  LedgerReportView,
  LedgerView,
} from '@lantern/contracts';
import type { SignInProof } from '@lantern/core/movement';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';
import { useToldActs } from './told-acts';

const base = (player: string): string => `/stand-ins/ledger/${encodeURIComponent(player)}`;

export function useLedger(player: string) {
  return useQuery({
    queryKey: [KEYS.ledger, player],
    queryFn: () => get<LedgerView>(base(player)),
    refetchInterval: 15_000,
  });
}

export function useLedgerRecords(
  player: string,
  object: string,
  { search, from }: { readonly search: string; readonly from: number },
) {
  return useQuery({
    queryKey: [KEYS.ledger, 'records', object, search, from],
    queryFn: () =>
      get<LedgerRecords>(
        `${base(player)}/records/${object}?search=${encodeURIComponent(search)}&from=${from}`,
      ),
    placeholderData: keepPreviousData,
  });
}

/** A record that somebody opened, once it goes on. */
export function useOpenedRecord(player: string, deed: string | null) {
  return useQuery({
    queryKey: [KEYS.ledger, player, 'opened', deed ?? ''],
    queryFn: () => get<LedgerRecordView>(`${base(player)}/deeds/${deed ?? ''}/record`),
    enabled: deed !== null,
  });
}

/** A dashboard that somebody opened, once it goes on. */
export function useOpenedDashboard(player: string, deed: string | null) {
  return useQuery({
    queryKey: [KEYS.ledger, player, 'dashboard', deed ?? ''],
    queryFn: () => get<LedgerDashboardView>(`${base(player)}/deeds/${deed ?? ''}/dashboard`),
    enabled: deed !== null,
  });
}

/** The address of the file of an export. */
export const ledgerFile = (player: string, deed: string): string => `/api${base(player)}/deeds/${deed}/file`;

export interface ExportToMake {
  readonly report: string;
  readonly format: 'csv' | 'xlsx';
  readonly fields: readonly string[];
  readonly rows?: number;
}

/** What a person does in the ledger. */
export function useLedgerActs(player: string) {
  const queries = useQueryClient();
  const settled = { onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.ledger] }) };
  return {
    signIn: useMutation({
      mutationFn: (request: {
        readonly country: string;
        readonly proof: SignInProof;
        readonly atWork: boolean;
      }) => change<LedgerDeedView>('POST', `${base(player)}/sign-in`, request),
      ...settled,
    }),
    openDashboard: useMutation({
      mutationFn: ({ report }: { readonly report: string }) =>
        change<LedgerDashboardView>('POST', `${base(player)}/dashboards/${report}`),
      ...settled,
    }),
    open: useMutation({
      mutationFn: ({ object, id }: { readonly object: string; readonly id: string }) =>
        change<LedgerRecordView>('POST', `${base(player)}/records/${object}/${encodeURIComponent(id)}`),
      ...settled,
    }),
    export: useMutation({
      mutationFn: (request: ExportToMake) =>
        change<LedgerDeedView>('POST', `${base(player)}/exports`, request),
      ...settled,
    }),
    label: useMutation({
      mutationFn: ({ report, label }: { readonly report: string; readonly label: string }) =>
        change<LedgerReportView>('PUT', `${base(player)}/reports/${report}/label`, { label }),
      ...settled,
    }),
    connect: useMutation({
      mutationFn: ({ application }: { readonly application: string }) =>
        change<LedgerDeedView>('POST', `${base(player)}/connections`, { application }),
      ...settled,
    }),
    fetch: useMutation({
      mutationFn: ({ connection }: { readonly connection: string }) =>
        change<LedgerDeedView>('POST', `${base(player)}/connections/${connection}/fetch`),
      ...settled,
    }),
  };
}

/** Keys of a person's programs. */
export function useLedgerKeys(player: string) {
  const queries = useQueryClient();
  const settled = { onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.ledger] }) };
  return {
    makeKey: useMutation({
      mutationFn: ({ name }: { readonly name: string }) =>
        change<LedgerNewKey>('POST', `${base(player)}/keys`, { name }),
      ...settled,
    }),
    endKey: useMutation({
      mutationFn: ({ id }: { readonly id: string }) => change<void>('DELETE', `${base(player)}/keys/${id}`),
      ...settled,
    }),
  };
}

/** What a person does about something they did: ends it, replies, asks, reports. */
export function useDeedActs(player: string) {
  const queries = useQueryClient();
  const settled = { onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.ledger] }) };
  const path = (id: string): string => `${base(player)}/deeds/${id}`;
  return {
    ...useToldActs(path, [KEYS.ledger]),
    end: useMutation({
      mutationFn: ({ id }: { readonly id: string }) => change<void>('POST', `${path(id)}/end`),
      ...settled,
    }),
  };
}
