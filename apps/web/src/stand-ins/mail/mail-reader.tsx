import type { PersonView } from '@lantern/contracts';
import { useMail, useMailActs } from '../../data/mail';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { LabelTag } from '../label-tag';
import { sizeWords } from '../../wording/sizes';
import { Told } from '../told';
import { languageOf } from '../../wording/told';

interface Props {
  readonly person: PersonView;
  readonly id: string;
  readonly onBack: () => void;
  /** A mail that was taken back is a draft again. */
  readonly onDraft: (id: string) => void;
}

/** A mail that was received or sent. */
export function MailReader({ person, id, onBack, onDraft }: Props) {
  const mail = useMail(person.id, id);
  const acts = useMailActs(person.id);
  if (mail.isPending) return <Loading what="the mail" />;
  if (mail.isError) return <Notice look="stop">{errorSentence(mail.error)}</Notice>;
  return (
    <article className="p-6">
      <button type="button" onClick={onBack} className="mb-3 text-press underline">
        Back to the folder
      </button>
      <h1 className="mb-2">{mail.data.subject || 'No subject'}</h1>
      <p className="text-ink-2">From {mail.data.from}</p>
      <p className="mb-4 text-ink-2">
        To {mail.data.to.slice(0, 20).join(', ')}
        {mail.data.to.length > 20 && ` and ${mail.data.to.length - 20} more`}
      </p>
      {mail.data.label && (
        <p className="mb-3">
          <LabelTag label={mail.data.label} />
        </p>
      )}
      {mail.data.noPassingOn && (
        <p className="mb-3 border-l-4 border-rule-strong pl-3">This mail must not be forwarded.</p>
      )}
      {mail.data.notice && (
        <Told
          id={mail.data.id}
          notice={mail.data.notice}
          about="mail"
          language={languageOf(person.language)}
          acts={acts}
          reported={mail.data.reported}
          onTakenBack={onDraft}
        />
      )}
      <p className="max-w-2xl whitespace-pre-wrap">{mail.data.body}</p>
      {mail.data.attachments.map((file) => (
        <p key={file.id} className="mt-3 inline-block border border-rule-strong px-3 py-1.5">
          <b>{file.name}</b> {sizeWords(file.size)}
        </p>
      ))}
    </article>
  );
}
