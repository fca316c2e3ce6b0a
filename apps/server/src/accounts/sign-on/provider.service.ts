import type { SignOnTrial } from '@lantern/contracts/sign-on';
import { Injectable } from '@nestjs/common';
import { createRemoteJWKSet, type JWTPayload, jwtVerify } from 'jose';
import * as oidc from 'openid-client';
import { SignOnFailure } from './failure.js';
import type { SignOnEntity } from './sign-on.entity.js';
import { isLoopback, SignOnSetting } from './sign-on-setting.service.js';

/** A provider that says nothing for so long is down. */
const TIMEOUT_SECONDS = 10;
/** Clocks of two machines may be so far apart. */
const CLOCK_SECONDS = 300;
/** What the provider says about itself is asked again after so long. */
const KNOWN_MS = 600_000;
/** OpenID Connect Back-Channel Logout 1.0, 2.4. */
const LOGOUT_EVENT = 'http://schemas.openid.net/event/backchannel-logout';

/** A sign-in that is under way: what the answer has to bring. */
export interface Underway {
  readonly state: string;
  readonly nonce: string;
  readonly verifier: string;
}

/** Who came back, as the provider says. */
export interface Answered {
  readonly claims: Readonly<Record<string, unknown>>;
  readonly issuer: string;
  readonly session: string | null;
}

/** Speaks OpenID Connect with the identity provider: the authorization code flow with PKCE (RFC 7636). */
@Injectable()
export class IdentityProvider {
  private known: { readonly of: string; readonly at: number; readonly config: oidc.Configuration } | null =
    null;

  constructor(private readonly setting: SignOnSetting) {}

  /** Where the browser goes to sign in. Throws `server-unreachable`. */
  async begin(setting: SignOnEntity): Promise<{ readonly url: string; readonly underway: Underway }> {
    const config = await this.configuration(setting);
    const underway = {
      state: oidc.randomState(),
      nonce: oidc.randomNonce(),
      verifier: oidc.randomPKCECodeVerifier(),
    };
    const url = oidc.buildAuthorizationUrl(config, {
      redirect_uri: this.setting.redirectUri,
      scope: 'openid email profile',
      state: underway.state,
      nonce: underway.nonce,
      code_challenge: await oidc.calculatePKCECodeChallenge(underway.verifier),
      code_challenge_method: 'S256',
    });
    return { url: url.href, underway };
  }

  /**
   * Redeems the answer that the browser brought back. The ID token's signature, issuer, audience, times and nonce are
   * checked. Groups that it does not hold are asked of the provider. Throws a {@link SignOnFailure}.
   */
  async answered(setting: SignOnEntity, query: string, underway: Underway): Promise<Answered> {
    const config = await this.configuration(setting);
    const url = new URL(this.setting.redirectUri);
    url.search = query;
    const tokens = await oidc
      .authorizationCodeGrant(config, url, {
        pkceCodeVerifier: underway.verifier,
        expectedState: underway.state,
        expectedNonce: underway.nonce,
        idTokenExpected: true,
      })
      .catch((error: unknown) => {
        throw new SignOnFailure(isNetwork(error) ? 'unreachable' : 'not-accepted');
      });
    const claims: Record<string, unknown> = { ...tokens.claims() };
    const sub = String(claims['sub']);
    if (claims[setting.groupsClaim] === undefined || claims['email'] === undefined) {
      const more = config.serverMetadata().userinfo_endpoint
        ? await oidc.fetchUserInfo(config, tokens.access_token, sub).catch(() => ({}))
        : {};
      Object.assign(claims, { ...more, ...claims });
    }
    const { sid } = claims;
    return { claims, issuer: config.serverMetadata().issuer, session: typeof sid === 'string' ? sid : null };
  }

  /** Where the browser signs out at the provider; null where it has no such place, or cannot be reached. */
  async end(setting: SignOnEntity, back: string): Promise<string | null> {
    const config = await this.configuration(setting).catch(() => null);
    if (!config?.serverMetadata().end_session_endpoint) return null;
    return oidc.buildEndSessionUrl(config, { post_logout_redirect_uri: back }).href;
  }

  /** Whom the provider signed out (OpenID Connect Back-Channel Logout 1.0, 2.6). Throws `not-permitted`. */
  async signedOut(
    setting: SignOnEntity,
    token: string,
  ): Promise<{ readonly issuer: string; readonly sub: string | null; readonly session: string | null }> {
    const config = await this.configuration(setting);
    const { issuer, jwks_uri: keys } = config.serverMetadata();
    if (!keys) throw new SignOnFailure('not-accepted');
    const { payload } = await jwtVerify(token, createRemoteJWKSet(new URL(keys)), {
      issuer,
      audience: setting.clientId,
      clockTolerance: CLOCK_SECONDS,
      maxTokenAge: CLOCK_SECONDS,
    }).catch(() => {
      throw new SignOnFailure('not-accepted');
    });
    const { sub, sid, events, nonce } = payload as JWTPayload & { events?: object; sid?: unknown };
    const isLogout = typeof events === 'object' && events !== null && LOGOUT_EVENT in events;
    const session = typeof sid === 'string' ? sid : null;
    if (!isLogout || nonce !== undefined || (!sub && !session)) throw new SignOnFailure('not-accepted');
    return { issuer, sub: sub ?? null, session };
  }

  /** Asks a provider who it is, without keeping anything. */
  async trial(setting: SignOnEntity): Promise<SignOnTrial> {
    try {
      const { end_session_endpoint: end } = (await this.discovered(setting)).serverMetadata();
      return { reached: true, why: '', endSession: end !== undefined };
    } catch (error) {
      const why = error instanceof Error ? error.message : '';
      return { reached: false, why, endSession: false };
    }
  }

  private async configuration(setting: SignOnEntity): Promise<oidc.Configuration> {
    const of = `${setting.issuer} ${setting.clientId} ${setting.changedAt.getTime()}`;
    const now = Date.now();
    if (this.known?.of === of && now - this.known.at < KNOWN_MS) return this.known.config;
    const config = await this.discovered(setting);
    this.known = { of, at: now, config };
    return config;
  }

  private async discovered(setting: SignOnEntity): Promise<oidc.Configuration> {
    const secret = await this.setting.secretOf(setting);
    const server = new URL(setting.issuer);
    // Over plain http only on this machine, for providers that are being tried.
    const insecure =
      server.protocol === 'http:' && isLoopback(server.hostname) ? [oidc.allowInsecureRequests] : [];
    return oidc
      .discovery(
        server,
        setting.clientId,
        { [oidc.clockTolerance]: CLOCK_SECONDS },
        secret === null ? oidc.None() : oidc.ClientSecretPost(secret),
        { timeout: TIMEOUT_SECONDS, execute: [...insecure, oidc.enableNonRepudiationChecks] },
      )
      .catch(() => {
        throw new SignOnFailure('unreachable');
      });
  }
}

/** Errors of the way there, not of what was said. */
const isNetwork = (error: unknown): boolean =>
  error instanceof Error && (error.name === 'TimeoutError' || error instanceof TypeError);
