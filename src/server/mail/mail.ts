import { createTransport } from 'nodemailer';
import { isPng } from '@/core/picture-format';
import { config } from '../config';

export interface Mail {
  to: string;
  subject: string;
  /** Plain text; addresses in it stand on lines of their own, so that mail programs make them links. */
  text: string;
  /** Shown above the text. */
  picture?: { bytes: Buffer; describes: string };
  /** What goes along as files. */
  files?: { name: string; bytes: Buffer; type: string }[];
}

/**
 * Hands a mail to the SMTP server of this installation.
 *
 * @throws Error if the server does not take it; nothing was sent then
 */
export async function sendMail({ to, subject, text, picture, files = [] }: Mail): Promise<void> {
  const { smtpUrl, mailFrom } = config();
  if (!smtpUrl) throw new Error('There is no mail server: YURTA_SMTP_URL is not set.');
  const transport = createTransport(smtpUrl, { from: mailFrom });
  try {
    const shown = picture && withPicture(text, picture);
    await transport.sendMail({
      to,
      subject,
      text,
      html: shown?.html,
      attachments: [
        ...(shown ? [shown.attachment] : []),
        ...files.map(({ name, bytes, type }) => ({ filename: name, content: bytes, contentType: type })),
      ],
    });
  } finally {
    transport.close();
  }
}

/** The same mail for programs that show pictures. */
function withPicture(text: string, { bytes, describes }: NonNullable<Mail['picture']>) {
  const type = isPng(bytes) ? 'png' : 'jpeg';
  const paragraphs = text
    .split('\n\n')
    .map((paragraph) => `<p>${linked(escaped(paragraph)).replaceAll('\n', '<br>')}</p>`)
    .join('');
  return {
    html: `<div style="max-width:520px;font-family:sans-serif;color:#26231F"><img src="cid:picture" alt="${escaped(describes)}" width="520" style="max-width:100%;border-radius:12px">${paragraphs}</div>`,
    attachment: { filename: `picture.${type}`, content: bytes, contentType: `image/${type}`, cid: 'picture' },
  };
}

function escaped(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');
}

function linked(html: string): string {
  return html.replace(/https?:\/\/[^\s<]+/g, (address) => `<a href="${address}">${address}</a>`);
}
