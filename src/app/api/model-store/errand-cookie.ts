/** Holds what a browser must bring back from the model store's door. Sealed; of use to nobody else. */
export const ERRAND_COOKIE = 'yurta_store_errand';
export const ARRIVAL = '/api/model-store/arrival';

const SECONDS = 15 * 60;

export function errandCookie(errand: string, secure: boolean): string {
  const life = errand ? SECONDS : 0;
  return `${ERRAND_COOKIE}=${errand}; Path=${ARRIVAL}; Max-Age=${life}; HttpOnly; SameSite=Lax${secure ? '; Secure' : ''}`;
}
