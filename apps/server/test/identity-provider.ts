/** An identity provider on loopback: the library `oidc-provider`, certified for OpenID Connect, with people of ours. */
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { exportJWK, generateKeyPair } from 'jose';
import Provider from 'oidc-provider';

export interface ProviderPerson {
  readonly email: string;
  readonly name: string;
  /** Null where the provider says nothing about it. */
  readonly verified?: boolean | null;
  readonly groups?: readonly string[];
}

export interface RunningProvider {
  readonly issuer: string;
  readonly provider: Provider;
  /** Who signs in next, by subject. */
  signsIn(sub: string): void;
  readonly people: Map<string, ProviderPerson>;
  stop(): Promise<void>;
}

export const CLIENT = { id: 'lantern', secret: 'a secret of the test, long enough' };

/** `groupsIn` says where groups stand: in the ID token, or with the provider alone. */
export async function startProvider(
  { redirectUri, backChannelUri, back }: { redirectUri: string; backChannelUri: string; back: string },
  { groupsIn = 'token' as 'token' | 'userinfo' } = {},
): Promise<RunningProvider> {
  const people = new Map<string, ProviderPerson>();
  let next = '';
  const server = createServer();
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const issuer = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const { privateKey } = await generateKeyPair('RS256', { extractable: true });
  const provider = new Provider(issuer, {
    clients: [
      {
        client_id: CLIENT.id,
        client_secret: CLIENT.secret,
        token_endpoint_auth_method: 'client_secret_post',
        redirect_uris: [redirectUri],
        post_logout_redirect_uris: [back],
        backchannel_logout_uri: backChannelUri,
        backchannel_logout_session_required: true,
      },
    ],
    jwks: { keys: [{ ...(await exportJWK(privateKey)), use: 'sig', alg: 'RS256' }] },
    claims: { openid: ['sub', 'sid'], email: ['email', 'email_verified', 'groups'], profile: ['name'] },
    conformIdTokenClaims: groupsIn === 'userinfo',
    features: { devInteractions: { enabled: false }, backchannelLogout: { enabled: true } },
    pkce: { required: () => true },
    cookies: { keys: ['test'] },
    findAccount: (_context, sub) => {
      const person = people.get(sub);
      if (!person) return undefined;
      const { email, name, verified = true, groups } = person;
      return {
        accountId: sub,
        claims: () => ({
          sub,
          email,
          name,
          ...(verified === null ? {} : { email_verified: verified }),
          ...(groups ? { groups: [...groups] } : {}),
        }),
      };
    },
  });
  const callback = provider.callback();
  server.on('request', (request: IncomingMessage, response: ServerResponse) => {
    if (request.url?.startsWith('/interaction/')) void interact(request, response);
    else void callback(request, response);
  });

  /** Signs the next person in without asking, and consents for them. */
  async function interact(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const { prompt, params, session } = await provider.interactionDetails(request, response);
    if (prompt.name === 'login')
      return provider.interactionFinished(request, response, { login: { accountId: next } });
    const grant = new provider.Grant({
      accountId: session?.accountId ?? next,
      clientId: String(params['client_id']),
    });
    grant.addOIDCScope('openid email profile');
    return provider.interactionFinished(request, response, { consent: { grantId: await grant.save() } });
  }

  return {
    ...{ issuer, provider, people },
    signsIn: (sub) => (next = sub),
    stop: () => closed(server),
  };
}

const closed = (server: Server): Promise<void> =>
  new Promise((resolve) => {
    server.close(() => resolve());
    server.closeAllConnections();
  });

/** A browser with cookies, which follows redirects of the provider and stops at addresses that begin with `until`. */
export class Browser {
  private readonly cookies = new Map<string, string>();

  async goTo(address: string, until: string): Promise<string> {
    let at = address;
    for (let steps = 0; steps < 12 && !at.startsWith(until); steps += 1) {
      const cookie = [...this.cookies].map(([name, value]) => `${name}=${value}`).join('; ');
      const answer = await fetch(at, { redirect: 'manual', headers: { cookie } });
      await answer.body?.cancel();
      for (const line of answer.headers.getSetCookie()) {
        const [pair = ''] = line.split(';');
        const cut = pair.indexOf('=');
        this.cookies.set(pair.slice(0, cut), pair.slice(cut + 1));
      }
      const location = answer.headers.get('location');
      if (location === null) throw new Error(`${at} answered ${answer.status} and led nowhere`);
      at = new URL(location, at).href;
    }
    return at;
  }
}
