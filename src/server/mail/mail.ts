import { createTransport } from 'nodemailer';
import { config } from '../config';

export interface Mail {
  to: string;
  subject: string;
  /** Plain text; addresses in it stand on lines of their own, so that mail programs make them links. */
  text: string;
}

/**
 * Hands a mail to the SMTP server of this installation.
 *
 * @throws Error if the server does not take it; nothing was sent then
 */
export async function sendMail({ to, subject, text }: Mail): Promise<void> {
  const { smtpUrl, mailFrom } = config();
  if (!smtpUrl) throw new Error('There is no mail server: YURTA_SMTP_URL is not set.');
  const transport = createTransport(smtpUrl, { from: mailFrom });
  try {
    await transport.sendMail({ to, subject, text });
  } finally {
    transport.close();
  }
}
