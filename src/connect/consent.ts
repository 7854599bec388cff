import {
  AuthorizationResponseError,
  type AuthorizationServer,
  authorizationCodeGrantRequest,
  type Client,
  calculatePKCECodeChallenge,
  customFetch,
  generateRandomCodeVerifier,
  generateRandomState,
  None,
  processAuthorizationCodeResponse,
  processRefreshTokenResponse,
  refreshTokenGrantRequest,
  type TokenEndpointResponse,
  validateAuthResponse,
} from 'oauth4webapi';
import type { Instant } from '../core/units';
import { ask, type Reach, type Result, type Trouble } from './reach';

/** What a seller's consent gave: how a service is asked from now on. */
export interface Granted {
  readonly token: string;
  /** By which a new one is had once it ended; null where there is none. */
  readonly refresh: string | null;
  /** When the token ends; null where that was not said. */
  readonly until: Instant | null;
}

/** A consent that was begun: what its return is held against. */
export interface Begun {
  readonly state: string;
  readonly verifier: string;
  readonly redirect: string;
}

const CLIENT: Client = { client_id: 'sampan' };

/** Longer tokens are none of the contract. */
const LONGEST = 4_000;

/** A service as the protocol knows it: it is reached by its id, whatever stands in its addresses. */
const serverOf = (service: string): AuthorizationServer => ({
  issuer: `https://${service}.invalid`,
  token_endpoint: `https://${service}.invalid/token`,
});

/** What went wrong with a request, carried through the protocol. */
class InTrouble extends Error {
  constructor(readonly trouble: Trouble) {
    super(trouble.says);
  }
}

/** Requests go the way that all go, with its limits. */
const through =
  (reach: Reach, service: string) =>
  async (
    _: string,
    { method, headers, body }: { method: string; headers: Record<string, string>; body?: unknown },
  ) => {
    const init = { method, headers, body: String(body) };
    const answer = await ask(reach, service, '/token', init);
    if (!answer.ok) throw new InTrouble(answer.trouble);
    return Response.json(answer.value.body, { status: answer.value.status });
  };

const nonsense = (says: string): Trouble => ({ kind: 'nonsense', says });

async function granted(make: () => Promise<TokenEndpointResponse>, now: Instant): Promise<Result<Granted>> {
  try {
    const { access_token, refresh_token, expires_in } = await make();
    if (access_token.length > LONGEST || (refresh_token?.length ?? 0) > LONGEST)
      return { ok: false, trouble: nonsense('The token is too long.') };
    return {
      ok: true,
      value: {
        token: access_token,
        refresh: refresh_token ?? null,
        until: expires_in === undefined ? null : now + expires_in * 1_000,
      },
    };
  } catch (error) {
    if (error instanceof InTrouble) return { ok: false, trouble: error.trouble };
    if (error instanceof AuthorizationResponseError)
      return { ok: false, trouble: { kind: 'refused', says: 'Consent was refused.' } };
    return { ok: false, trouble: nonsense('The token cannot be read.') };
  }
}

/** Begins a consent (authorization code with PKCE: RFC 6749 section 4.1, RFC 7636). @returns the address to go to, and what is to be kept until the return */
export async function beginConsent(
  page: string,
  redirect: string,
): Promise<{ readonly begun: Begun; readonly address: string }> {
  const begun = { state: generateRandomState(), verifier: generateRandomCodeVerifier(), redirect };
  const query = new URLSearchParams({
    response_type: 'code',
    client_id: CLIENT.client_id,
    redirect_uri: redirect,
    state: begun.state,
    code_challenge: await calculatePKCECodeChallenge(begun.verifier),
    code_challenge_method: 'S256',
  });
  return { begun, address: `${page}?${query}` };
}

/** Exchanges what stands in the return address of a consent for a token (RFC 6749 section 4.1.3). */
export const takeConsent = (
  reach: Reach,
  service: string,
  returned: URLSearchParams,
  { state, verifier, redirect }: Begun,
  now: Instant,
): Promise<Result<Granted>> => {
  const server = serverOf(service);
  const options = { [customFetch]: through(reach, service) };
  return granted(async () => {
    const checked = validateAuthResponse(server, CLIENT, returned, state);
    const response = await authorizationCodeGrantRequest(
      server,
      CLIENT,
      None(),
      checked,
      redirect,
      verifier,
      options as object,
    );
    return processAuthorizationCodeResponse(server, CLIENT, response);
  }, now);
};

/** Asks for a new token where the old one ended (RFC 6749 section 6). What it gives to refresh with takes the old one's place. */
export const renewConsent = async (
  reach: Reach,
  service: string,
  refresh: string,
  now: Instant,
): Promise<Result<Granted>> => {
  const server = serverOf(service);
  const options = { [customFetch]: through(reach, service) };
  const made = await granted(async () => {
    const response = await refreshTokenGrantRequest(server, CLIENT, None(), refresh, options as object);
    return processRefreshTokenResponse(server, CLIENT, response);
  }, now);
  return made.ok ? { ok: true, value: { ...made.value, refresh: made.value.refresh ?? refresh } } : made;
};
