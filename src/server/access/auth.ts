import { betterAuth } from 'better-auth';
import { drizzleAdapter } from 'better-auth/adapters/drizzle';
import { db } from '@/db/database';
import { MIN_PASSWORD } from '@/core/forms/password-length';
import * as schema from '@/db/schema';
import { config } from '../config';

function make() {
  return betterAuth({
    appName: 'Yurta',
    baseURL: config().publicUrl,
    // The same installation answers on localhost, 127.0.0.1 and any further node's port.
    trustedOrigins: (request) =>
      request
        ? [new URL(request.url).origin, request.headers.get('origin') ?? ''].filter((origin) =>
            sameHost(origin, request),
          )
        : [],
    secret: config().secret,
    database: drizzleAdapter(db(), { provider: 'pg', schema }),
    emailAndPassword: { enabled: true, disableSignUp: true, minPasswordLength: MIN_PASSWORD },
    session: { expiresIn: 60 * 60 * 24 * 14 },
    // Wrong passwords are counted at the door, for all nodes together.
    rateLimit: { enabled: true, window: 60, max: 600, customRules: { '/sign-in/email': { window: 60, max: 600 } } },
    advanced: { cookiePrefix: 'yurta', defaultCookieAttributes: { sameSite: 'lax', httpOnly: true } },
    // Nothing but signing in and out: accounts are made and changed by the application.
    disabledPaths: [
      '/update-user',
      '/change-email',
      '/delete-user',
      '/change-password',
      '/set-password',
      '/forget-password',
      '/request-password-reset',
      '/reset-password',
      '/send-verification-email',
      '/verify-email',
      '/link-social',
      '/unlink-account',
      '/sign-in/social',
    ],
    telemetry: { enabled: false },
  });
}

function sameHost(origin: string, request: Request): boolean {
  return (
    origin !== '' &&
    URL.canParse(origin) &&
    new URL(origin).host === (request.headers.get('host') ?? new URL(request.url).host)
  );
}

let instance: ReturnType<typeof make> | undefined;

/** Accounts and sessions. Made on first use, when the database's address is known. */
export function auth() {
  instance ??= make();
  return instance;
}
