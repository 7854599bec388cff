import { failureInWords } from '../context/failure';
import type { Work } from '../context/work';

const WATCH = 5_000;
const TRIES = 4;

/**
 * Tells when the shop is no longer there under an open tab: storage was cleared, or another version of Sampan
 * took it over.
 */
export function watchForLoss({ db }: Pick<Work, 'db'>, tell: (says: string) => void): () => void {
  let over = false;
  const lost = (says: string) => {
    if (over) return;
    over = true;
    clearInterval(timer);
    tell(says);
  };
  const look = async (tries = TRIES) => {
    if (over) return;
    try {
      if (!(await db.settings.get('shop')))
        lost(
          'The storage of this browser was cleared while Sampan was open: what the shop held is gone from here.',
        );
    } catch (error) {
      // A database that is being closed may open again, and then shows what became of it.
      if (tries > 1) setTimeout(() => look(tries - 1), 500);
      else lost(`The storage of this browser cannot be read any more: ${failureInWords(error)}`);
    }
  };
  const onClose = () => {
    look();
  };
  const onVersion = () => lost('Another tab opened the shop with a newer version of Sampan, or deleted it.');
  db.on('close', onClose);
  db.on('versionchange', onVersion);
  const timer = setInterval(onClose, WATCH);
  return () => {
    over = true;
    clearInterval(timer);
    db.on('close').unsubscribe(onClose);
    db.on('versionchange').unsubscribe(onVersion);
  };
}
