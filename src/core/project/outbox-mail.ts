/** A mail as the Outbox shows it. */
export interface OutboxMail {
  id: string;
  from: string;
  to: string;
  subject: string;
  text: string;
  sentAt: string;
}
