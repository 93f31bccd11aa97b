import type { PostTime } from '../lineup/cards';
import { WhenNear } from '../ui/WhenNear';
import { PostCard } from './PostCard';

/** Beyond so many, the cards of a day are drawn by parts, as they come near. */
const fewCards = 12;

/** Hours that are drawn together, and what a card with a title of one line takes, in pixels. */
const hoursTogether = 3;
const leafHeight = 46;

/** The cards of a day under each other. By hours, so that those of a part stay in it, whatever the filters leave out. */
export function DayCards({ cards }: { cards: readonly PostTime[] }) {
  if (cards.length <= fewCards) return cards.map((card) => <PostCard key={card.key} card={card} />);
  const partOf = (card: PostTime) => Math.floor(Number(card.time.slice(0, 2)) / hoursTogether);
  const first = new Set(cards.slice(0, fewCards).map(partOf));
  return [...Map.groupBy(cards, partOf)].map(([part, of]) => (
    <WhenNear key={part} count={of.length} height={leafHeight} atOnce={first.has(part)}>
      {() => of.map((card) => <PostCard key={card.key} card={card} />)}
    </WhenNear>
  ));
}
