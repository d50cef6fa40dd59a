/** Our mark: a round tent from above, ring within ring. */
export function Mark() {
  return (
    <svg width="28" height="28" viewBox="0 0 28 28" aria-hidden="true">
      <circle cx="14" cy="14" r="12.4" fill="none" stroke="currentColor" strokeWidth="2.2" />
      <circle cx="14" cy="14" r="6.2" fill="none" stroke="var(--chakra-colors-madder)" strokeWidth="2" />
      <circle cx="14" cy="14" r="2" fill="var(--chakra-colors-madder)" />
    </svg>
  );
}
