import { useEffect, useRef } from 'react';

/** Stands where a list ends for now: when it comes into sight, the next part is asked for. */
export function EndMark({ onSeen }: { onSeen: () => void }) {
  const mark = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const here = mark.current;
    if (!here) return undefined;
    const watch = new IntersectionObserver(
      (seen) => {
        if (seen.some((one) => one.isIntersecting)) onSeen();
      },
      { rootMargin: '400px' },
    );
    watch.observe(here);
    return () => watch.disconnect();
  }, [onSeen]);
  return <div ref={mark} className="h-px" aria-hidden />;
}
