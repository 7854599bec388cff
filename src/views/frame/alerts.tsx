'use client';
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { useNow } from '../../ui/clock';
import { theShop } from '../../work/desk/client';
import { useCourseOrWhy } from './world';

/** Shows what newly needs a person as notifications of the browser, where they were allowed. */
export function Alerts() {
  const { course } = useCourseOrWhy();
  const minute = useNow(60_000);
  const router = useRouter();
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked at again each minute
  useEffect(() => {
    if (!course || typeof Notification === 'undefined' || Notification.permission !== 'granted') return;
    theShop()
      .takeAlert(course.needs)
      .then((alert) => {
        if (!alert) return;
        const shown = new Notification(alert.title, { body: alert.body, tag: 'sampan', icon: '/icon.svg' });
        shown.onclick = () => {
          window.focus();
          router.push(alert.href);
        };
      });
  }, [course, minute, router]);
  return null;
}
