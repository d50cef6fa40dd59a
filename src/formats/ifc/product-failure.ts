/** What a user is told of a product that the library throws at; its own exceptions say nothing. */
export function failedOn(error: unknown): string {
  return `the reader failed on its shape${error instanceof Error ? ` (${error.message})` : ''}`;
}
