import AddIcon from '@mui/icons-material/Add';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { colourOfPart, type CastSheet } from '@jumble/core';
import { useCallback, useState, type ReactNode } from 'react';
import { tones } from '../../theme.ts';
import { useBench, useBenchState } from '../state/benchContext.ts';
import { CastFiles } from './CastFiles.tsx';
import { GroupDialog } from './GroupDialog.tsx';
import { References } from './References.tsx';
import { SceneChoice } from './SceneChoice.tsx';
import { PartList } from './PartList.tsx';
import { PartDialog } from './PartDialog.tsx';
import { PartRow } from './PartRow.tsx';
import { newPartDraft, type PartDraft } from './castEdits.ts';
import { showRealColours, showScratchColours } from './scratch.ts';
import { choosePart } from '../page/parts.ts';

/** The colour a part has in a scene, whatever is shown now. */
function realColour(cast: CastSheet, partId: string, scene: string | null): string {
  return colourOfPart({ ...cast, palette: 'scene' }, partId, scene);
}

/** Who is on this page and of what they are made. */
export function CastPanel(): ReactNode {
  const bench = useBench();
  const cast = useBenchState((state) => state.cast);
  const partId = useBenchState((state) => state.partId);
  const distance = useBenchState((state) => state.scratchDistance);
  const scene = useBenchState((state) => state.document?.scene ?? null);
  const [draft, setDraft] = useState<PartDraft | null>(null);
  const choose = useCallback((id: string) => choosePart(bench, id), [bench]);
  const edit = useCallback(
    (id: string, colour: string) => {
      const part = bench.state.cast?.parts.find((one) => one.id === id);
      if (part !== undefined) setDraft({ ...part, colour, isNew: false });
    },
    [bench],
  );
  const [naming, setNaming] = useState<{ id: string | null; name: string } | null>(null);
  if (cast === null) return null;
  const scratch = cast.palette === 'scratch';
  return (
    <>
      <Box
        sx={{
          px: 1.25,
          py: 0.75,
          borderBottom: `1px solid ${tones.line}`,
          display: 'flex',
          alignItems: 'center',
          gap: 1,
        }}
      >
        <Typography variant="caption" sx={{ flex: 1 }} role="status">
          {scratch ? (
            <>
              <b>Scratch colours</b>
              {distance === null ? '' : `, neighbours differ by ${Math.floor(distance)} or more`}
            </>
          ) : (
            <>
              Colours: <SceneChoice cast={cast} scene={scene} />
            </>
          )}
        </Typography>
        <Tooltip
          describeChild
          title={
            scratch
              ? 'Show the real colours again'
              : 'Loud colours, unlike those they touch, so that a missed spot shows'
          }
        >
          <Button
            onClick={() => (scratch ? showRealColours(bench) : void showScratchColours(bench))}
            variant="outlined"
            sx={{ py: 0 }}
          >
            {scratch ? 'Real colours' : 'Scratch'}
          </Button>
        </Tooltip>
      </Box>
      <Box sx={{ overflowY: 'auto', flex: 1, pb: 1 }}>
        {cast.groups.map((group) => {
          const parts = cast.parts.filter((part) => part.groupId === group.id);
          return (
            <Box key={group.id} component="section" aria-label={group.name}>
              <Box sx={{ display: 'flex', alignItems: 'center', pl: 1.25, pr: 0.5, pt: 1 }}>
                <Typography variant="h3" sx={{ flex: 1, cursor: 'text' }} noWrap onDoubleClick={() => setNaming(group)}>
                  {group.name}
                </Typography>
                <Tooltip title={`Add a part to ${group.name}`}>
                  <Button
                    sx={{ minWidth: 0, px: 0.5, py: 0 }}
                    aria-label={`Add a part to ${group.name}`}
                    onClick={() => setDraft(newPartDraft(cast, group.id))}
                  >
                    <AddIcon sx={{ fontSize: 18 }} />
                  </Button>
                </Tooltip>
              </Box>
              <PartList name={group.name} count={parts.length} needed={parts.some((part) => part.id === partId)}>
                {() =>
                  parts.map((part) => (
                    <PartRow
                      key={part.id}
                      id={part.id}
                      name={part.name}
                      slot={part.slot}
                      empty={part.empty}
                      colour={colourOfPart(cast, part.id, scene)}
                      real={realColour(cast, part.id, scene)}
                      current={part.id === partId}
                      onChoose={choose}
                      onEdit={edit}
                    />
                  ))
                }
              </PartList>
            </Box>
          );
        })}
        <Button startIcon={<AddIcon />} sx={{ ml: 0.75, mt: 1 }} onClick={() => setNaming({ id: null, name: '' })}>
          Character, prop or set
        </Button>
        <CastFiles />
        <References />
      </Box>
      {draft !== null && <PartDialog draft={draft} cast={cast} scene={scene} onClose={() => setDraft(null)} />}
      {naming !== null && <GroupDialog group={naming} cast={cast} onClose={() => setNaming(null)} />}
    </>
  );
}
