import { holdsInOrder } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { Note } from '../../Note.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { CopyRulesChoice } from './CopyRulesChoice.tsx';
import { HoldEditor } from './HoldEditor.tsx';
import { Kinds, Limits } from './HoldJob.tsx';
import { RuleRow } from './HoldRow.tsx';
import { allBlack } from './holds.ts';

/** The rules that colour the lines of this page, in the order in which they count: the last one most. */
export function HoldRules(): ReactNode {
  const bench = useBench();
  const document = useBenchState((state) => state.document);
  const draft = useBenchState((state) => state.holdDraft);
  if (document === null) return <Note>The rules are listed once the page is read.</Note>;
  const rules = holdsInOrder(document);
  return (
    <Box sx={{ overflowY: 'auto', flex: 1, pb: 1.5 }}>
      {draft !== null && <HoldEditor />}
      {rules.length === 0 && draft === null && (
        <Note>No rule yet. Choose lines on the page or on the left; what colour they take is said here.</Note>
      )}
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: 'none' }} aria-label="Rules, later ones count more">
        {rules.map((rule, k) => (
          <RuleRow key={rule.id} id={rule.id} place={k} last={k === rules.length - 1} />
        ))}
      </Box>
      {rules.length + document.lineStrokes.size > 0 && (
        <Button sx={{ mx: 1 }} onClick={() => allBlack(bench)}>
          All lines back to black
        </Button>
      )}
      {rules.length > 0 && <CopyRulesChoice />}
      <Limits />
      <Kinds />
    </Box>
  );
}
