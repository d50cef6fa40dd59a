import type { Attachment } from '@/core/project/comment';
import { api } from '../api';

/**
 * Stores what was said with its files. Trying again after a failure doubles nothing.
 *
 * @param base address of the project's API
 * @param key the same for every try to say this
 * @param files what goes along; those that are stored are taken out, so that what remains is what is still to be sent
 * @returns the comment's id
 * @throws Refusal with what the server refused
 */
export async function sendComment(base: string, body: object, key: string, files: File[]): Promise<string> {
  const { id } = await api.post<{ id: string }>(`${base}/comments`, body, key);
  while (files.length > 0) {
    const file = files[0]!;
    await api.bytes<Attachment>(`${base}/comments/${id}/files?${new URLSearchParams({ name: file.name.slice(0, 200) })}`, new Blob([file], { type: file.type || 'application/octet-stream' })); // prettier-ignore
    files.shift();
  }
  return id;
}
