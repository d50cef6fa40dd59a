import { existsSync } from 'node:fs';
import { readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import OAuth2Server, {
  type AuthorizationCode,
  type AuthorizationCodeModel,
  type Client,
  type RefreshToken,
  type RefreshTokenModel,
  type Token,
} from '@node-oauth/oauth2-server';

export interface StoreClient {
  id: string;
  secret: string;
  /** What the person who is asked reads. */
  name: string;
}

/** The one right that programs can get. */
export const SCOPE = 'files.read';
const ACCESS_SECONDS = 10 * 60;
const REFRESH_SECONDS = 60 * 24 * 60 * 60;
const CODE_SECONDS = 60;

interface Grants {
  codes: AuthorizationCode[];
  tokens: Token[];
}

/**
 * OAuth 2.0 authorisation code flow with refresh tokens and PKCE for one registered program. Tokens outlive the process.
 *
 * @param home folder where grants are kept
 */
export async function openAuthorisation(home: string, client: StoreClient) {
  const record = join(home, 'grants.json');
  const grants: Grants = existsSync(record) ? revive(await readFile(record, 'utf8')) : { codes: [], tokens: [] };
  let writing = Promise.resolve();
  const save = () =>
    (writing = writing.then(async () => {
      await writeFile(`${record}.part`, JSON.stringify(grants), { mode: 0o600 });
      await rename(`${record}.part`, record);
    }));
  const registered: Client = {
    id: client.id,
    grants: ['authorization_code', 'refresh_token'],
    redirectUris: ['http://127.0.0.1/'], // the library wants one; validateRedirectUri decides
  };

  const model: AuthorizationCodeModel & RefreshTokenModel = {
    // The library asks without a secret when a person is sent to allow the program, with it when tokens are fetched.
    getClient: async (id, secret) => (id === client.id && (!secret || secret === client.secret) ? registered : null),
    // A program on this machine may wait on any port (RFC 8252, 7.3).
    validateRedirectUri: async (address) =>
      URL.canParse(address) && ['localhost', '127.0.0.1', '[::1]'].includes(new URL(address).hostname),
    validateScope: async (_user, _client, scope) => (!scope || scope.every((one) => one === SCOPE) ? [SCOPE] : false),
    saveAuthorizationCode: async (code, ofClient, user) => {
      const kept = { ...code, client: ofClient, user } as AuthorizationCode;
      grants.codes = [...grants.codes.filter(({ expiresAt }) => expiresAt > new Date()), kept];
      await save();
      return kept;
    },
    getAuthorizationCode: async (given) => grants.codes.find(({ authorizationCode }) => authorizationCode === given),
    revokeAuthorizationCode: async ({ authorizationCode }) => {
      const before = grants.codes.length;
      grants.codes = grants.codes.filter((code) => code.authorizationCode !== authorizationCode);
      await save();
      return grants.codes.length < before;
    },
    saveToken: async (token, ofClient, user) => {
      const kept = { ...token, client: ofClient, user };
      grants.tokens = [
        ...grants.tokens.filter(({ refreshTokenExpiresAt }) => refreshTokenExpiresAt! > new Date()),
        kept,
      ];
      await save();
      return kept;
    },
    getAccessToken: async (given) => grants.tokens.find(({ accessToken }) => accessToken === given),
    getRefreshToken: async (given) =>
      grants.tokens.find(({ refreshToken }) => refreshToken === given) as RefreshToken | undefined,
    revokeToken: async ({ refreshToken }) => {
      const before = grants.tokens.length;
      grants.tokens = grants.tokens.filter((token) => token.refreshToken !== refreshToken);
      await save();
      return grants.tokens.length < before;
    },
  };

  const server = new OAuth2Server({
    model,
    accessTokenLifetime: ACCESS_SECONDS,
    refreshTokenLifetime: REFRESH_SECONDS,
    authorizationCodeLifetime: CODE_SECONDS,
  });
  return {
    server,
    /** Ends what belongs to an access or refresh token (RFC 7009); an unknown one is fine. */
    async revoke(given: string, clientId: string, secret: string): Promise<boolean> {
      if (clientId !== client.id || secret !== client.secret) return false;
      grants.tokens = grants.tokens.filter(
        ({ accessToken, refreshToken }) => accessToken !== given && refreshToken !== given,
      );
      await save();
      return true;
    },
  };
}

function revive(text: string): Grants {
  return JSON.parse(text, (key, value: unknown) =>
    key.toLowerCase().endsWith('expiresat') ? new Date(value as string) : value,
  ) as Grants;
}
