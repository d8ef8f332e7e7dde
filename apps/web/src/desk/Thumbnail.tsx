import type { PageView } from '@jumble/contracts';
import Typography from '@mui/material/Typography';
import { useState, type CSSProperties, type ReactNode } from 'react';

/** The small picture of a page, or why there is none. */
export function Thumbnail({ page, style }: { page: PageView; style: CSSProperties }): ReactNode {
  const [failed, setFailed] = useState<string | null>(null);
  const { thumbnailHash } = page;
  if (thumbnailHash === null || failed === thumbnailHash) {
    return (
      <Typography variant="caption" sx={{ color: '#fff', p: 1, textAlign: 'center' }}>
        {thumbnailHash === null ? 'is drawn …' : 'its picture is missing'}
      </Typography>
    );
  }
  const url = `/api/pages/${page.id}/thumbnail/${thumbnailHash}`;
  return <img src={url} alt="" style={style} onError={() => setFailed(thumbnailHash)} />;
}
