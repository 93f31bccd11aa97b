import { stateWord } from '../../deliveries/states';
import type { Post } from '../../posts/posts';

/** How far a delivery has come; once it is on the network, the way there. */
export function StateLink({ state, address }: Pick<Post['deliveries'][number], 'state' | 'address'>) {
  if (!address) return stateWord(state);
  return (
    <a className="link" href={address} target="_blank" rel="noreferrer">
      {stateWord(state)}
    </a>
  );
}
