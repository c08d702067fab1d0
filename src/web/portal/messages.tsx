import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { countOwnMessages, listOwnMessages, readOwnMessages } from '../../contract/portal/messages';
import { call } from '../kit/api';
import { EndMark } from '../kit/end-mark';
import { News } from '../kit/layout';
import { useList } from '../kit/lists';
import { Empty, Failed, Skeleton } from '../kit/place';
import { Moment, Small } from '../kit/text';
import { useLooking } from './base';

/** What was written to an affiliate, kept here. */
export function Messages() {
  const list = useList(listOwnMessages, {}, 30);
  const looking = useLooking();
  const isRead = list.rows.length > 0 && !looking;
  useRead(isRead);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <h1>Messages</h1>
      {list.loading && list.rows.length === 0 && <Skeleton />}
      {!list.loading && list.rows.length === 0 && (
        <div className="mt-3">
          <Empty title="Nothing yet">What we write to you is kept here.</Empty>
        </div>
      )}
      {list.rows.map((m) => (
        <News key={m.id}>
          <details open={m.isNew}>
            <summary className="cursor-pointer">
              <b className="font-semibold">{m.subject}</b>{' '}
              {m.isNew && <span className="rounded-sm bg-copper-wash px-1 text-[12px] text-copper">new</span>}{' '}
              <Small>
                <Moment at={m.at} />
              </Small>
            </summary>
            <p dir="auto" className="mt-1 max-w-[66ch] break-words whitespace-pre-wrap">
              {m.body}
            </p>
          </details>
        </News>
      ))}
      {list.onEnd && <EndMark onSeen={list.onEnd} />}
    </>
  );
}

/** Once they are shown they are read; the marks stay until the page is left. */
function useRead(isShown: boolean): void {
  const queries = useQueryClient();
  useEffect(() => {
    if (!isShown) return;
    void call(readOwnMessages)
      .then(() => queries.invalidateQueries({ queryKey: [countOwnMessages.path] }))
      .catch(() => undefined);
  }, [isShown, queries]);
}
