import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import Provider from 'oidc-provider';

/**
 * An identity provider on loopback with the pages for trying things that `oidc-provider` ships. Everybody is in the group
 * "desk" but the stranger.
 */
export async function runProvider(workbench: string) {
  const client = { id: 'lantern', secret: 'a secret of the story, long enough' };
  const server = createServer();
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const issuer = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const provider = new Provider(issuer, {
    clients: [
      {
        client_id: client.id,
        client_secret: client.secret,
        token_endpoint_auth_method: 'client_secret_post',
        redirect_uris: [`${workbench}/api/session/sign-on/answer`],
        post_logout_redirect_uris: [`${workbench}/`],
      },
    ],
    claims: { openid: ['sub', 'sid'], email: ['email', 'email_verified', 'groups'], profile: ['name'] },
    cookies: { keys: ['story'] },
    findAccount: (_context, sub) => ({
      accountId: sub,
      claims: () => ({
        sub,
        ...{ email: `${sub}@merrowstrait.example`, email_verified: true, name: `${sub} of the provider` },
        groups: sub === 'stranger' ? ['visitors'] : ['desk'],
      }),
    }),
  });
  server.on('request', provider.callback());
  return {
    ...{ issuer, client },
    stop: () =>
      new Promise<void>((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}
