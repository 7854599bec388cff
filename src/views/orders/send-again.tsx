'use client';
import { useState } from 'react';
import { byLine, countUnits, type LineUnits } from '../../core/orders';
import { countOf } from '../../core/units';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/head';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { ToldOrder } from './buyer-words';
import { UnitPicker } from './unit-picker';

/** Units of an order that are sent again at no charge, as an order of its own. */
export function SendAgain({ order, onDone }: { order: ToldOrder; onDone: () => void }) {
  const most = byLine(order.lines.map((l) => ({ line: l.id, units: l.quantity })));
  const [chosen, setChosen] = useState<readonly LineUnits[]>(most);
  const n = countUnits(chosen);
  return (
    <Notice tone="plain">
      A replacement is an order of its own, at no charge to the buyer. It is checked and waits for you to
      forward it.
      {countUnits(most) > 1 && (
        <UnitPicker legend="To send again" order={order} most={most} chosen={chosen} onChoose={setChosen} />
      )}
      <div className="mt-2 flex gap-2">
        <Button
          kind="main"
          disabled={!n}
          onClick={async () => {
            const said = await theShop().sendAgain(order.id, chosen);
            if (said.ok) await say(`${said.number} entered: look at it, then forward it.`);
            else await say(said.reason, { wrong: true });
            onDone();
          }}
        >
          Send {countOf(n, 'unit')} again
        </Button>
        <Button onClick={onDone}>Keep it as it is</Button>
      </div>
    </Notice>
  );
}
