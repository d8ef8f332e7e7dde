import Box from '@mui/material/Box';
import { useEffect, useRef, useState, type ReactNode } from 'react';

/** Height of a row, in px. */
const ROW_PX = 36;
/** Rows are made so far before they come into view. */
const AHEAD = '600px';

/**
 * The parts of a group. A cast may have thousands: a group far out of view is an empty place of about its
 * height until somebody comes near, or needs it.
 *
 * @param needed the current part is in it.
 */
export function PartList({
  name,
  count,
  needed,
  children,
}: {
  readonly name: string;
  readonly count: number;
  readonly needed: boolean;
  readonly children: () => ReactNode;
}): ReactNode {
  const place = useRef<HTMLDivElement>(null);
  const [near, setNear] = useState(typeof IntersectionObserver === 'undefined');
  useEffect(() => {
    if (near) return;
    const observer = new IntersectionObserver((entries) => entries.some((one) => one.isIntersecting) && setNear(true), {
      rootMargin: AHEAD,
    });
    observer.observe(place.current!);
    return () => observer.disconnect();
  }, [near]);
  const shown = near || needed;
  return (
    <Box
      ref={place}
      role="radiogroup"
      aria-label={`Parts of ${name}`}
      sx={shown ? undefined : { height: count * ROW_PX }}
    >
      {shown ? children() : null}
    </Box>
  );
}
