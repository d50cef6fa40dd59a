import { RateLimiterMemory } from 'rate-limiter-flexible';
import { Problem } from '../problems';

/** How much one person may do in a while, counted by this process. */
export class Pace {
  private readonly limiter: RateLimiterMemory;

  /**
   * @param most in that time
   * @param seconds how long that is
   * @param words what is said to whoever does more
   */
  constructor(
    most: number,
    seconds: number,
    private readonly words = 'Too much at once. Wait a few seconds and go on.',
  ) {
    this.limiter = new RateLimiterMemory({ points: most, duration: seconds });
  }

  /** Counts what somebody does. @throws Problem 429 where it is too much */
  async count(person: string, much = 1): Promise<void> {
    await this.limiter.consume(person, much).catch(() => {
      throw new Problem(429, this.words);
    });
  }
}
