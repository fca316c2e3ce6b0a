import type { DirectoryPartner, OrganisationView } from '@lantern/contracts/directory';
import { type FormEvent, useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import {
  useOrganisation,
  usePartners,
  useRemovePartner,
  useSaveOrganisation,
  useSavePartner,
} from '../../data/directory';
import { AskFirst } from '../../ui/ask-first';
import { Button } from '../../ui/button';
import { TextArea, TextField } from '../../ui/field';
import { ListAndOne, ListRow } from '../../ui/list-and-one';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { shortTime } from '../../wording/times';
import { DirectoryPage } from './directory-page';

/** What counts as inside, and whom outside the organisation knows. */
export function OrganisationPage() {
  const [query, setQuery] = useSearchParams();
  const organisation = useOrganisation();
  const partners = usePartners();
  const chosen = query.get('partner');
  const choose = (partner: string | null) => setQuery(partner ? { partner } : {}, { replace: true });
  const partner = partners.data?.find(({ address }) => address === chosen);
  return (
    <DirectoryPage bar={<Button onClick={() => choose('new')}>Add a partner</Button>}>
      <ListAndOne
        listName="Organisation and partners"
        list={
          <>
            <ListRow isChosen={!partner && chosen !== 'new'} onChoose={() => choose(null)}>
              <span className="font-semibold">{organisation.data?.name ?? 'Your organisation'}</span>
              <span className="block text-[12.5px] text-ink-2">
                {organisation.data?.domains.join(', ') || 'no domain of its own yet'}
              </span>
            </ListRow>
            <h2 className="px-4 pt-3 pb-1 text-[12.5px] text-ink-2">Partners outside</h2>
            {partners.isPending && <Loading what="the partners" />}
            {partners.isError && <Notice look="stop">{errorSentence(partners.error)}</Notice>}
            {partners.data?.length === 0 && (
              <p className="px-4 text-ink-2">
                None yet. A partner can have a country and a certificate to encrypt mail with.
              </p>
            )}
            {partners.data?.map((each) => (
              <ListRow key={each.address} isChosen={each === partner} onChoose={() => choose(each.address)}>
                <span className="font-semibold">{each.name}</span>
                <span className="block text-[12.5px] text-ink-2">
                  {[each.address, each.organisation].filter(Boolean).join(', ')}
                </span>
              </ListRow>
            ))}
          </>
        }
        oneName="Organisation or partner"
        one={
          chosen === 'new' ? (
            <PartnerForm key="new" done={choose} />
          ) : partner ? (
            <PartnerForm key={partner.address} partner={partner} done={choose} />
          ) : (
            <>
              {organisation.isError && <Notice look="stop">{errorSentence(organisation.error)}</Notice>}
              {organisation.data && <OrganisationForm organisation={organisation.data} />}
            </>
          )
        }
      />
    </DirectoryPage>
  );
}

function OrganisationForm({ organisation }: { readonly organisation: OrganisationView }) {
  const save = useSaveOrganisation();
  const [name, setName] = useState(organisation.name);
  const [domains, setDomains] = useState(organisation.domains.join('\n'));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const lines = domains.split(/[\s,;]+/).filter(Boolean);
    save.mutate({ name, domains: lines }, { onSuccess: () => toast('Organisation saved.') });
  };
  return (
    <form onSubmit={submit} aria-label="Organisation" className="flex max-w-xl flex-col gap-3">
      <h2>Your organisation</h2>
      <TextField
        label="Name"
        required
        maxLength={120}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <TextArea
        label="Own domains"
        rows={5}
        mono
        hint="One per line. Addresses in these domains are inside, all others are outside. This takes effect at once."
        value={domains}
        onChange={(event) => setDomains(event.target.value)}
      />
      {save.isError && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      <div>
        <Button look="main" type="submit" refusal={save.isPending ? 'It is being saved' : undefined}>
          Save organisation
        </Button>
      </div>
    </form>
  );
}

function PartnerForm({
  partner,
  done,
}: {
  readonly partner?: DirectoryPartner;
  readonly done: (address: string | null) => void;
}) {
  const save = useSavePartner();
  const remove = useRemovePartner();
  const [fields, setFields] = useState({
    address: partner?.address ?? '',
    name: partner?.name ?? '',
    organisation: partner?.organisation ?? '',
    country: partner?.country ?? '',
    certificate: '',
  });
  const field = (name: keyof typeof fields) => ({
    value: fields[name],
    onChange: (event: { readonly target: { readonly value: string } }) =>
      setFields({ ...fields, [name]: event.target.value }),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const { certificate, country, ...rest } = fields;
    save.mutate(
      {
        ...rest,
        country: country.trim().toUpperCase() || null,
        ...(certificate.trim() ? { certificate: certificate.trim() } : {}),
      },
      { onSuccess: (saved) => (toast(`${saved.name} saved.`), done(saved.address)) },
    );
  };
  const { certificate } = partner ?? {};
  return (
    <>
      <form onSubmit={submit} aria-label="Partner" className="grid max-w-2xl grid-cols-2 gap-3">
        <h2 className="col-span-2">{partner ? partner.name : 'Add a partner'}</h2>
        <TextField label="Name" required maxLength={120} {...field('name')} />
        <TextField
          label="Mail address"
          type="email"
          required
          maxLength={254}
          readOnly={partner !== undefined}
          {...field('address')}
        />
        <TextField label="Organisation" maxLength={120} {...field('organisation')} />
        <TextField
          label="Country"
          maxLength={2}
          pattern="[A-Za-z]{2}"
          hint="Two letters, such as NO. Rules can use it."
          {...field('country')}
        />
        <div className="col-span-2">
          <p className="mb-1 text-[12.5px] text-ink-2">
            {certificate
              ? `Mail to this address can be encrypted. Certificate of ${certificate.subject}, valid until ${shortTime(certificate.until, new Date())}.`
              : 'No certificate yet. Mail to this address that a rule encrypts is not sent.'}
          </p>
          <TextArea
            label={certificate ? 'New certificate' : 'Certificate'}
            mono
            rows={5}
            hint="PEM, with an RSA key."
            {...field('certificate')}
          />
        </div>
        {save.isError && (
          <div className="col-span-2">
            <Notice look="stop">{errorSentence(save.error)}</Notice>
          </div>
        )}
        <div className="col-span-2">
          <Button look="main" type="submit" refusal={save.isPending ? 'It is being saved' : undefined}>
            Save partner
          </Button>
        </div>
      </form>
      {partner && (
        <div className="mt-3">
          <AskFirst
            name="Remove partner"
            effect="The name, country and certificate of this address are deleted."
            does="Remove partner"
            onDo={() =>
              remove.mutate(partner.address, {
                onSuccess: () => (toast(`${partner.name} removed.`), done(null)),
              })
            }
          />
          {remove.isError && <Notice look="stop">{errorSentence(remove.error)}</Notice>}
        </div>
      )}
    </>
  );
}
