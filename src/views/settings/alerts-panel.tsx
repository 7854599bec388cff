'use client';
import { useState } from 'react';
import { Button } from '../../ui/button';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { AlertRule, Settings } from '../../work/model';

const USUAL: AlertRule = { notify: 'never', quietFrom: '20:00', quietTo: '08:00', digestAt: '18:00' };

const WORDS: Readonly<Record<AlertRule['notify'], string>> = {
  never: 'never',
  needs: 'when something newly needs me',
  digest: 'once a day, with the digest',
};

/** When this browser shows a notification, and when it is quiet. */
export function AlertsPanel({ settings }: { settings: Settings }) {
  const alerts = settings.alerts ?? USUAL;
  const [permission, setPermission] = useState<NotificationPermission>(() =>
    typeof Notification === 'undefined' ? 'denied' : Notification.permission,
  );
  const save = async (part: Partial<AlertRule>) => {
    await theShop().saveSettings({ alerts: { ...alerts, ...part } }, 'Alerts changed');
    await say('Alerts changed.', { undo: true });
  };
  const time = (field: 'quietFrom' | 'quietTo' | 'digestAt', label: string) => (
    <label className="text-xs text-muted">
      {label}
      <input
        type="time"
        value={alerts[field]}
        onChange={(e) => e.target.value && save({ [field]: e.target.value })}
        className="mt-0.5 block rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
      />
    </label>
  );
  return (
    <>
      <label className="block text-xs text-muted">
        Notify me
        <select
          value={alerts.notify}
          onChange={(e) => save({ notify: e.target.value as AlertRule['notify'] })}
          className="mt-0.5 block rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
        >
          {Object.entries(WORDS).map(([notify, words]) => (
            <option key={notify} value={notify}>
              {words}
            </option>
          ))}
        </select>
      </label>
      {alerts.notify !== 'never' && (
        <div className="mt-2 flex flex-wrap gap-3">
          {time('quietFrom', 'Quiet from')}
          {time('quietTo', 'to')}
          {alerts.notify === 'digest' && time('digestAt', 'Digest at')}
        </div>
      )}
      {alerts.notify !== 'never' && permission !== 'granted' && (
        <p className="mt-2 text-[13.5px]">
          {permission === 'denied' ? (
            'This browser does not allow notifications of Sampan: change that in its settings for this page.'
          ) : (
            <Button onClick={async () => setPermission(await Notification.requestPermission())}>
              Allow notifications
            </Button>
          )}
        </p>
      )}
      <p className="mt-1 text-xs text-muted">
        Shown while Sampan is open in a tab. What comes in quiet hours is told together afterwards.
      </p>
    </>
  );
}
