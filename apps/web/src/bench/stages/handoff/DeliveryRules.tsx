import { editDelivery, NEW_DELIVERY, type CastSheet, type DeliveryRule } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { ruleInWords } from '../../../handoff/deliveryWords.ts';
import { NameDialog } from '../../../notices/NameDialog.tsx';
import { ChoiceRow } from '../../ChoiceRow.tsx';
import { PanelSection } from '../../PanelSection.tsx';
import { useBench } from '../../state/benchContext.ts';
import { DeliveryEditor } from './DeliveryEditor.tsx';

export interface DeliveryRulesProps {
  readonly cast: CastSheet;
  readonly rule: DeliveryRule;
  readonly onChoose: (id: string) => void;
}

/** By which rule of the job the page goes out, and what the rule says. */
export function DeliveryRules({ cast, rule, onChoose }: DeliveryRulesProps): ReactNode {
  const bench = useBench();
  const [isOpen, setOpen] = useState(false);
  const [naming, setNaming] = useState<'new' | 'copy' | null>(null);
  const { deliveries } = cast;
  const add = (name: string): void => {
    const id = crypto.randomUUID();
    const order = Math.max(...deliveries.map((one) => one.order)) + 1;
    const from = naming === 'copy' ? rule : NEW_DELIVERY;
    bench.changeCast(`Add the delivery rule ${name}`, editDelivery(cast, id, { ...from, id, name, order }));
    onChoose(id);
    setOpen(true);
  };
  const remove = (): void => {
    bench.changeCast(`Remove the delivery rule ${rule.name}`, editDelivery(cast, rule.id, null));
    onChoose(deliveries.find((one) => one.id !== rule.id)!.id);
  };
  return (
    <PanelSection title="Delivery">
      <ChoiceRow label="Rule" value={rule.id} options={deliveries.map(({ id, name }) => [id, name])} onSet={onChoose} />
      <Typography variant="caption" color="text.secondary" component="p">
        {ruleInWords(rule)}
      </Typography>
      <Box sx={{ display: 'flex', mx: -0.5, '& button': { minWidth: 0, px: 0.75 } }}>
        <Button onClick={() => setOpen(!isOpen)} aria-expanded={isOpen}>
          {isOpen ? 'Fold' : 'Change'}
        </Button>
        <Button onClick={() => setNaming('new')}>New</Button>
        <Button onClick={() => setNaming('copy')}>Copy</Button>
        <Button onClick={remove} disabled={deliveries.length === 1}>
          Remove
        </Button>
      </Box>
      {isOpen && <DeliveryEditor key={rule.id} cast={cast} rule={rule} />}
      {naming !== null && (
        <NameDialog
          title={naming === 'new' ? 'New delivery rule' : `Copy of ${rule.name}`}
          name=""
          action="Add"
          hint="Who gets it: a colourist, a printer, an archive."
          taken={deliveries.map(({ name }) => name)}
          onClose={() => setNaming(null)}
          onName={add}
        />
      )}
    </PanelSection>
  );
}
