import { sameCamera } from '@/core/view/camera';
import type { Stage } from '@/stage/stage';
import type { ReviewState, ReviewStore } from '../review-state';

/** As much of the stage as the view steers. */
export interface BoundStage {
  show: Stage['show'];
  rig: {
    destination: Stage['rig']['destination'];
    jumpTo: Stage['rig']['jumpTo'];
    flights: Pick<Stage['rig']['flights'], 'flyTo' | 'glideTo'>;
  };
}

/** Lets the stage follow the view in the store: the one way in which anything gets there. Returns how to end that. */
export function bindStage(store: ReviewStore, stage: BoundStage): () => void {
  const follow = ({ view, approach }: ReviewState) => {
    stage.show(view);
    if (sameCamera(stage.rig.destination, view.camera)) return;
    if (approach === 'jump') stage.rig.jumpTo(view.camera);
    else if (approach === 'glide') stage.rig.flights.glideTo(view.camera);
    else stage.rig.flights.flyTo(view.camera);
  };
  follow({ ...store.getState(), approach: 'jump' });
  return store.subscribe((state, before) => {
    if (state.view !== before.view) follow(state);
  });
}
