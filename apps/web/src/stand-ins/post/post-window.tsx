import type { PostMailView } from '@lantern/contracts';
import { useSearchParams } from 'react-router';
import { useLiveUpdates } from '../../data/live';
import { usePost } from '../../data/post';
import { useMay } from '../../data/session';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { shortTime } from '../../wording/times';
import { StandInFrame } from '../stand-in-frame';

/** The simulated post office: what the world outside got by mail, and how it came. */
export function PostWindow() {
  useLiveUpdates();
  const may = useMay('stand-ins.use');
  return (
    <StandInFrame name="outside post office" played={null} players={[]} onPlay={() => undefined}>
      {may ? <Post /> : <Notice look="stop">Your account may not use the stand-ins.</Notice>}
    </StandInFrame>
  );
}

function Post() {
  const post = usePost();
  const [search, setSearch] = useSearchParams();
  if (post.isPending) return <Loading what="the post office" />;
  if (post.isError) return <Notice look="stop">{errorSentence(post.error)}</Notice>;
  const { arrived, underway, door } = post.data;
  const open = arrived.find(({ id }) => id === search.get('mail'));
  return (
    <div className="min-h-0 flex-1 overflow-auto p-5">
      <h1 className="mb-1 !text-[16px]">Mail delivered outside</h1>
      <p className="mb-4 text-ink-2">
        {door.open
          ? `Any program on this machine can send mail through the gateway on port ${door.port}. Allowed mail arrives here.`
          : `The gateway could not open port ${door.port} because another program uses it. The mail window still works.`}
      </p>
      {underway.length > 0 && (
        <section aria-labelledby="underway" className="mb-5">
          <h2 id="underway" className="mb-1 !text-ink">
            Not arrived
          </h2>
          {underway.map((mail) => (
            <p key={mail.id} className="border-t border-rule py-1.5">
              {mail.sender} to <b>{mail.recipient}</b>: {mail.state === 'stuck' ? 'not sent. ' : 'retrying. '}
              {mail.reason}
            </p>
          ))}
        </section>
      )}
      <section aria-labelledby="arrived">
        <h2 id="arrived" className="mb-1 !text-ink">
          Arrived
        </h2>
        {arrived.length === 0 && <p className="text-ink-2">No mail yet. Send a mail to someone outside.</p>}
        {arrived.map((mail) => (
          <button
            key={mail.id}
            type="button"
            aria-expanded={open?.id === mail.id}
            onClick={() => setSearch(open?.id === mail.id ? {} : { mail: mail.id })}
            className="grid w-full grid-cols-[190px_1fr_250px_90px] gap-3 border-t border-rule py-1.5 text-left hover:bg-[#eef5f2]"
          >
            <span className="truncate">{mail.recipient}</span>
            <span className="truncate">{mail.subject || 'No subject'}</span>
            <span className="truncate text-ink-2">{wayWords(mail)}</span>
            <span className="text-right text-ink-2">{shortTime(mail.at, new Date())}</span>
          </button>
        ))}
      </section>
      {open && <Arrived mail={open} />}
    </div>
  );
}

function wayWords({ tls, encrypted, notToBePassedOn }: PostMailView): string {
  return [
    tls === '' ? 'over an unencrypted connection' : `over ${tls}`,
    ...(encrypted ? ['encrypted'] : []),
    ...(notToBePassedOn ? ['do not forward'] : []),
  ].join(', ');
}

function Arrived({ mail }: { readonly mail: PostMailView }) {
  return (
    <article aria-label={mail.subject} className="mt-4 max-w-3xl border border-rule-strong px-4 py-3">
      <p className="text-ink-2">
        From {mail.sender} to {mail.recipient}, {wayWords(mail)}
      </p>
      <h2 className="my-1 !text-[16px] !text-ink">{mail.subject || 'No subject'}</h2>
      {mail.text === null ? (
        <p>This mail is encrypted for its recipient. The key is not available here.</p>
      ) : (
        <p className="whitespace-pre-wrap">{mail.text}</p>
      )}
      {mail.files.map((name) => (
        <span key={name} className="mt-2 mr-2 inline-block border border-rule-strong px-3 py-1">
          {name}
        </span>
      ))}
    </article>
  );
}
