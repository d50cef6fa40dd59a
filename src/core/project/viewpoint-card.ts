import type { ViewState } from '../view/view-state';

/** A card of the running order. */
export interface ViewpointCard {
  id: string;
  name: string;
  state: ViewState;
  hasPicture: boolean;
}
