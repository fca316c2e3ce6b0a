import type {
  CleanedMail,
  HighestOfFiles,
  MailDetail,
  MailSummary,
  PersonView,
  SendMailResult,
} from '@lantern/contracts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export interface KnownAddress {
  readonly address: string;
  readonly name: string;
  readonly from: string;
  readonly outside: boolean;
}

export interface MailToSend {
  readonly to: readonly string[];
  readonly subject: string;
  readonly body: string;
  readonly files: readonly File[];
  readonly draft: string | null;
  readonly keep: readonly string[];
  /** Null for none. */
  readonly label: string | null;
}

export function usePeople() {
  return useQuery({
    queryKey: [KEYS.people],
    queryFn: () => get<PersonView[]>('/people'),
    staleTime: 300_000,
  });
}

export function useAddresses(typed: string) {
  return useQuery({
    queryKey: [KEYS.addresses, typed],
    queryFn: () => get<KnownAddress[]>(`/people/addresses?typed=${encodeURIComponent(typed)}`),
    enabled: typed.trim().length > 0,
  });
}

/** The highest label of the files of a mail that is being written; asked again when they change. */
export function useHighestOfFiles(
  person: string,
  mail: Pick<MailToSend, 'files' | 'draft' | 'keep'>,
  asks: boolean,
) {
  const files = mail.files.map(({ name, size, lastModified }) => `${name} ${size} ${lastModified}`);
  return useQuery({
    queryKey: [KEYS.highestOfFiles, person, mail.draft, mail.keep, files],
    queryFn: () => {
      const form = new FormData();
      form.append('person', person);
      appendFiles(form, mail);
      return change<HighestOfFiles>('POST', '/stand-ins/mail/labels-of-files', form);
    },
    enabled: asks && mail.files.length + mail.keep.length > 0,
    staleTime: 60_000,
  });
}

function appendFiles(form: FormData, { files, draft, keep }: Pick<MailToSend, 'files' | 'draft' | 'keep'>) {
  form.append('keep', JSON.stringify(keep));
  if (draft) form.append('draft', draft);
  for (const file of files) form.append('files', file, file.name);
}

export function useMailbox(person: string) {
  return useQuery({
    queryKey: [KEYS.mailbox, person],
    queryFn: () => get<MailSummary[]>(`/stand-ins/mail/${person}/messages`),
    refetchInterval: 15_000,
  });
}

export function useMail(person: string, id: string | null) {
  return useQuery({
    queryKey: [KEYS.mailbox, person, id],
    queryFn: () => get<MailDetail>(`/stand-ins/mail/${person}/messages/${id ?? ''}`),
    enabled: id !== null,
  });
}

export function useSendMail(person: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (mail: MailToSend) => {
      const form = new FormData();
      form.append('person', person);
      form.append('to', JSON.stringify(mail.to));
      form.append('subject', mail.subject);
      form.append('body', mail.body);
      form.append('label', mail.label ?? '');
      appendFiles(form, mail);
      return change<SendMailResult>('POST', '/stand-ins/mail/messages', form);
    },
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.mailbox, person] }),
  });
}

export function useDiscardMail(person: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/stand-ins/mail/${person}/messages/${id}`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.mailbox, person] }),
  });
}

/** Answers the question that holds a mail back. */
export function useReply(person: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, ...reply }: { id: string; leads: 'goes-on' | 'stays'; words: string }) =>
      change<void>('POST', `/stand-ins/mail/${person}/messages/${id}/reply`, reply),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.mailbox, person] }),
  });
}

/** Says that what was found is none. */
export function useReportMail(person: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, words }: { id: string; words: string }) =>
      change<void>('POST', `/stand-ins/mail/${person}/messages/${id}/report`, { words }),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.mailbox, person] }),
  });
}

/** What a person does about a mail of theirs. */
export function useMailActs(person: string) {
  return { reply: useReply(person), override: useAskOverride(person), report: useReportMail(person) };
}

/** What is written without the values that would stop it; nothing is sent or kept. */
export function useCleanMail(person: string) {
  return useMutation({
    mutationFn: (mail: { to: readonly string[]; subject: string; body: string; draft: string }) =>
      change<CleanedMail>('POST', `/stand-ins/mail/${person}/without-values`, mail),
  });
}

/** Asks somebody to let a blocked mail go. */
export function useAskOverride(person: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, words }: { id: string; words: string }) =>
      change<void>('POST', `/stand-ins/mail/${person}/messages/${id}/override`, { words }),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.mailbox, person] }),
  });
}
