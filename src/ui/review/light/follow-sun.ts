import type { ProjectSite } from '@/core/sun/sun-site';
import type { Stage } from '@/stage/stage';
import type { ReviewStore } from '../review-state';

/** Lets the stage's sun stand where it does over the place at the view's time. Returns how to end that. */
export function followSun(store: ReviewStore, stage: Pick<Stage, 'setSun'>): () => void {
  let turn = 0;
  const follow = async (at: { date: string; minutes: number } | null, { site }: ProjectSite) => {
    const own = ++turn;
    if (!at || !site) return stage.setSun(null);
    const [{ momentOf }, { sunOver }] = await Promise.all([
      import('@/core/sun/local-time'),
      import('@/core/sun/sun-site'),
    ]);
    const { direction, position } = sunOver(site, momentOf(at, site.timeZone));
    if (own === turn) stage.setSun({ direction, elevation: position.elevation });
  };
  const { view, site } = store.getState();
  void follow(view.light.at, site);
  return store.subscribe((state, before) => {
    if (state.view.light.at !== before.view.light.at || state.site !== before.site)
      void follow(state.view.light.at, state.site);
  });
}
