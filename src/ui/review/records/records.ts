import { v4 as uuidv4 } from 'uuid';
import type { Comment } from '@/core/project/comment';
import type { ViewpointCard } from '@/core/project/viewpoint-card';
import type { StageHit } from '@/stage/stage';
import { api } from '../../api';
import { oneAtATime } from '../../one-at-a-time';
import { guarded, type ReviewStore } from '../review-state';
import type { ViewController } from '../view/view-controller';

const CARD_WIDTH = 480;
const COMMENT_WIDTH = 800;

export type ViewpointChange = { name: string } | { index: number } | { deleted: boolean };

/** What the project keeps of a Review: the running order and the comments. */
export class Records {
  readonly reloadViewpoints = oneAtATime(async () => {
    this.store.setState({ viewpoints: await api.get<ViewpointCard[]>(`${this.base}/viewpoints`) });
  });
  readonly reloadComments = oneAtATime(async () => {
    this.store.setState({ comments: await api.get<Comment[]>(`${this.base}/comments`) });
  });

  /** @param base address of the project's API */
  constructor(
    private readonly store: ReviewStore,
    private readonly base: string,
    private readonly view: ViewController,
  ) {}

  async saveViewpoint(name: string): Promise<boolean> {
    return guarded(this.store, async () => {
      const picture = await this.view.picture(CARD_WIDTH);
      const { id } = await api.post<{ id: string }>(`${this.base}/viewpoints`, {
        name,
        state: this.view.current(),
        picture,
      });
      await this.reloadViewpoints();
      this.store.setState({ viewpoint: id });
    });
  }

  async changeViewpoint(id: string, change: ViewpointChange): Promise<void> {
    await guarded(this.store, async () => {
      const { viewpoints } = this.store.getState();
      const card = viewpoints.find((viewpoint) => viewpoint.id === id) ?? null;
      if ('index' in change) this.store.setState({ viewpoints: moved(viewpoints, id, change.index) });
      await api.patch(`${this.base}/viewpoints/${id}`, change);
      if ('deleted' in change) this.store.setState({ deleted: change.deleted ? card : null });
      await this.reloadViewpoints();
    });
  }

  /**
   * Stores a comment with the current view, at `place` if one was picked. Returns whether it is stored.
   *
   * @param key the same for every try to say this
   */
  async say(text: string, place: StageHit | null, key = uuidv4()): Promise<boolean> {
    return guarded(this.store, async () => {
      const comment = {
        text,
        ...(place && {
          anchor: { element: place.element, point: place.point },
          elementName: place.name.slice(0, 300),
        }),
        view: this.view.current(),
        picture: await this.view.picture(COMMENT_WIDTH, place?.point ?? null),
      };
      await api.post(`${this.base}/comments`, comment, key);
      await this.reloadComments();
    });
  }

  async reply(replyTo: string, text: string, key = uuidv4()): Promise<boolean> {
    return guarded(this.store, async () => {
      await api.post(`${this.base}/comments`, { text, replyTo }, key);
      await this.reloadComments();
    });
  }
}

/** The running order with one card at another place (from 0). */
function moved(cards: ViewpointCard[], id: string, index: number): ViewpointCard[] {
  const card = cards.find((viewpoint) => viewpoint.id === id);
  const others = cards.filter((viewpoint) => viewpoint.id !== id);
  if (card) others.splice(index, 0, card);
  return others;
}
