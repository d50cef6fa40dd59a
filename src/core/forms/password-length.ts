/** Characters of a password, as OWASP ASVS 2.1.1 asks for. */
export const MIN_PASSWORD = 12;
