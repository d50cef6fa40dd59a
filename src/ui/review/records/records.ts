import { v4 as uuidv4 } from 'uuid';
import type { Comment, CommentChange } from '@/core/project/comment';
import type { ViewpointCard, ViewpointDetails } from '@/core/project/viewpoint-card';
import type { ViewState } from '@/core/view/view-state';
import type { StageHit } from '@/stage/stage';
import { api, asDataUrl } from '../../api';
import { sendComment } from '../../comments/send-comment';
import { oneAtATime } from '../../one-at-a-time';
import { guarded, type ReviewStore } from '../review-state';
import type { ViewController } from '../view/view-controller';

const CARD_WIDTH = 480;
const COMMENT_WIDTH = 800;
const DETAILS = ['name', 'group', 'isShared', 'question', 'minutes', 'parts'] as const;

/** What is changed of a viewpoint. @see ViewpointPatch */
export type ViewpointChange = Partial<ViewpointDetails> & {
  index?: number;
  deleted?: boolean;
  state?: ViewState;
  picture?: string;
};

/** What kind it is, and who is to do it by when. */
export type SaidDetails = Pick<CommentChange, 'kind' | 'assignee' | 'dueOn' | 'priority'>;

/** A change that can be taken back. */
export interface UndoneChange {
  id: string;
  /** What was done, as a sentence. */
  text: string;
  back: ViewpointChange;
}

/** What the project keeps of a Review: the running order and the comments. */
export class Records {
  readonly reloadViewpoints = oneAtATime(async () => {
    this.store.setState({ viewpoints: await api.get<ViewpointCard[]>(`${this.base}/viewpoints`) });
  });
  readonly reloadComments = oneAtATime(async () => {
    this.store.setState({ comments: await api.get<Comment[]>(`${this.base}/comments`) });
  });

  private last: Promise<unknown> = Promise.resolve();

  /** @param base address of the project's API */
  constructor(
    private readonly store: ReviewStore,
    private readonly base: string,
    private readonly view: ViewController,
  ) {}

  async saveViewpoint(name: string, isShared = true): Promise<boolean> {
    return guarded(this.store, async () => {
      const picture = await this.view.picture(CARD_WIDTH);
      const { id } = await api.post<{ id: string }>(`${this.base}/viewpoints`, {
        name,
        state: this.view.current(),
        picture,
        ...(isShared ? {} : { isShared }),
      });
      await this.reloadViewpoints();
      this.store.setState({ viewpoint: id });
    });
  }

  /** Changes a viewpoint; what was can be brought back. */
  async changeViewpoint(id: string, change: ViewpointChange): Promise<void> {
    await guarded(this.store, async () => {
      const { viewpoints } = this.store.getState();
      const at = viewpoints.findIndex((viewpoint) => viewpoint.id === id);
      const card = viewpoints[at];
      if (change.index !== undefined) this.store.setState({ viewpoints: moved(viewpoints, id, change) });
      const undone = card && (await this.undoOf(card, at, change));
      // Offered at once: what others hear of it may be back sooner than the answer.
      this.store.setState({ undone: undone ?? null });
      try {
        await this.inOrder(() => api.patch(`${this.base}/viewpoints/${id}`, change));
      } catch (error) {
        if (this.store.getState().undone === undone) this.store.setState({ undone: null });
        throw error;
      }
      await this.reloadViewpoints();
    });
  }

  /** Lets a viewpoint show what is seen now. */
  async updateViewpoint(id: string): Promise<void> {
    await guarded(this.store, async () => {
      const picture = await this.view.picture(CARD_WIDTH);
      await this.changeViewpoint(id, { state: this.view.current(), picture });
      this.store.setState({ viewpoint: id });
    });
  }

  async duplicateViewpoint(id: string): Promise<void> {
    await guarded(this.store, async () => {
      const { id: copy } = await api.post<{ id: string }>(`${this.base}/viewpoints/${id}`, {}, uuidv4());
      await this.reloadViewpoints();
      this.store.setState({
        undone: { id: copy, text: 'The viewpoint was duplicated.', back: { deleted: true } },
      });
    });
  }

  /** Takes back what was done last. */
  async undo(): Promise<void> {
    const { undone } = this.store.getState();
    if (!undone) return;
    await guarded(this.store, async () => {
      await this.inOrder(() => api.patch(`${this.base}/viewpoints/${undone.id}`, undone.back));
      this.store.setState({ undone: null });
      await this.reloadViewpoints();
    });
  }

  /** One change after the other: what is moved and then deleted at once is not deleted before it is moved. */
  private inOrder<T>(work: () => Promise<T>): Promise<T> {
    const next = this.last.then(work, work);
    this.last = next.catch(() => undefined);
    return next;
  }

  private async undoOf(card: ViewpointCard, at: number, change: ViewpointChange): Promise<UndoneChange> {
    const { id, name, hasPicture } = card;
    if (change.deleted) return { id, text: `“${name}” was deleted.`, back: { deleted: false } };
    const back: ViewpointChange = {};
    if (change.index !== undefined) back.index = at;
    for (const key of DETAILS) if (change[key] !== undefined) Object.assign(back, { [key]: card[key] });
    if (change.state) {
      back.state = card.state;
      if (hasPicture)
        back.picture = await asDataUrl(await asJpeg(await api.picture(`${this.base}/viewpoints/${id}/picture`)));
    }
    const what = change.state ? 'shows another view now' : change.index !== undefined ? 'was moved' : 'was changed';
    return { id, text: `“${name}” ${what}.`, back };
  }

  /**
   * Stores a comment with the current view, at `place` if one was picked. Returns whether it is stored.
   *
   * @param key the same for every try to say this
   * @param files what goes along; those that are stored are taken out
   */
  async say(
    text: string,
    place: StageHit | null,
    key = uuidv4(),
    details: SaidDetails = {},
    files: File[] = [],
  ): Promise<boolean> {
    return guarded(this.store, async () => {
      const comment = {
        text,
        ...details,
        ...placed(place),
        view: this.view.current(),
        picture: await this.view.picture(COMMENT_WIDTH, place?.point ?? null),
      };
      await sendComment(this.base, comment, key, files);
      await this.reloadComments();
    });
  }

  /** Stores a note of this person with the current view, at `place` if one was picked. Returns whether it is stored. */
  async takeNote(text: string, place: StageHit | null, key: string): Promise<boolean> {
    return guarded(this.store, async () => {
      const note = { text, ...placed(place), view: this.view.current() };
      await api.post(`${this.base}/notes`, { ...note, picture: await this.view.picture(COMMENT_WIDTH, place?.point ?? null) }, key); // prettier-ignore
    });
  }

  /** Changes what was said. Returns whether it is stored. */
  async changeComment(id: string, change: CommentChange): Promise<boolean> {
    return guarded(this.store, async () => {
      await api.patch(`${this.base}/comments/${id}`, change);
      await this.reloadComments();
    });
  }

  /** What is seen now, as it goes along with what is said. */
  async seen(): Promise<{ view: ViewState; picture: string }> {
    return { view: this.view.current(), picture: await this.view.picture(COMMENT_WIDTH) };
  }

  /** Writes down what was decided about a viewpoint, with what is seen. Returns whether it is stored. */
  async decide(text: string, viewpointId: string, key: string): Promise<boolean> {
    return guarded(this.store, async () => {
      await api.post(`${this.base}/comments`, { text, kind: 'decision', viewpointId, ...(await this.seen()) }, key);
      await this.reloadComments();
    });
  }

  /** Says that a decision stands as it is written. */
  async confirm(id: string): Promise<void> {
    await guarded(this.store, async () => {
      await api.post(`${this.base}/comments/${id}/confirmation`, {});
      await this.reloadComments();
    });
  }
}

/** How a picked place is stored. */
function placed(place: StageHit | null) {
  if (!place) return {};
  return { anchor: { element: place.element, point: place.point }, elementName: place.name.slice(0, 300) };
}

/** The running order with one card at another place (from 0), maybe in another group. */
function moved(cards: ViewpointCard[], id: string, { index = 0, group }: ViewpointChange): ViewpointCard[] {
  const found = cards.find((viewpoint) => viewpoint.id === id);
  const card = found && { ...found, group: group ?? found.group };
  const others = cards.filter((viewpoint) => viewpoint.id !== id);
  if (card) others.splice(index, 0, card);
  return others;
}

/** The server takes pictures as JPEG, whatever it drew itself. */
async function asJpeg(picture: Blob): Promise<Blob> {
  if (picture.type === 'image/jpeg') return picture;
  const bitmap = await createImageBitmap(picture);
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  canvas.getContext('2d')!.drawImage(bitmap, 0, 0);
  bitmap.close();
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.9 });
}
