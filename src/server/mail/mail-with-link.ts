import { dropLink } from '../access/links';
import { sendMail, type Mail } from './mail';

/**
 * Sends a mail with a link that was made for it. Where it does not go out the link goes too: another is made when the mail is
 * tried again.
 *
 * @param linkId null where the mail leads to what is there anyway
 * @throws Error if the mail server refuses
 */
export async function sendWithLink(mail: Mail, linkId: string | null): Promise<void> {
  try {
    await sendMail(mail);
  } catch (error) {
    if (linkId) await dropLink(linkId);
    throw error;
  }
}
