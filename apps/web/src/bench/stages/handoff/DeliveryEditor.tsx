import {
  canRunUnder,
  DELIVERY_AREAS,
  DELIVERY_FORMATS,
  editDelivery,
  FILE_WORDS,
  hasCmyk,
  hasLayers,
  LAYER_SPLITS,
  LAYER_WORDS,
  LEAST_DELIVERY_DPI,
  MOST_DELIVERY_DPI,
  MOST_PATTERN,
  patternProblem,
  TELLING_FILE_WORDS,
  TELLING_LAYER_WORDS,
  type CastSheet,
  type DeliveryRule,
} from '@jumble/core';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { AREA_WORDS, FORMAT_WORDS, SPLIT_WORDS } from '../../../handoff/deliveryWords.ts';
import { ChoiceRow } from '../../ChoiceRow.tsx';
import { NumberField } from '../../NumberField.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { TextRow } from '../../TextRow.tsx';
import { RuleField } from '../trap/RuleField.tsx';
import { useLineFacts } from '../trap/useLineFacts.ts';
import { ruleWords } from '../../page/ruleWords.ts';
import { fileExample, layerExamples } from './nameExamples.ts';
import { PrintColours } from './PrintColours.tsx';

export interface DeliveryEditorProps {
  readonly cast: CastSheet;
  readonly rule: DeliveryRule;
}

/** All that a delivery rule says; what it cannot say in its format is left out. */
export function DeliveryEditor({ cast, rule }: DeliveryEditorProps): ReactNode {
  const bench = useBench();
  const fileName = useBenchState((state) => fileExample(state, rule));
  const layers = useBenchState((state) => layerExamples(state, rule));
  const lineFacts = useLineFacts();
  const set = (label: string, change: Partial<DeliveryRule>): void =>
    bench.changeCast(`${rule.name}: ${label}`, editDelivery(cast, rule.id, { ...rule, ...change }));
  const isLayered = hasLayers(rule.format);
  return (
    <Box sx={{ pt: 0.5 }}>
      <TextRow label="Name of the rule" value={rule.name} most={80} onSet={(name) => set(`now ${name}`, { name })} />
      <ChoiceRow
        label="Format"
        value={rule.format}
        options={DELIVERY_FORMATS.map((format) => [format, FORMAT_WORDS[format]])}
        onSet={(format) =>
          set(`as ${FORMAT_WORDS[format]}`, { format, colours: hasCmyk(format) ? rule.colours : 'rgb' })
        }
      />
      {isLayered && (
        <>
          <ChoiceRow
            label="Layers"
            value={rule.layers}
            options={LAYER_SPLITS.map((split) => [split, SPLIT_WORDS[split]])}
            onSet={(split) => set(`layers ${SPLIT_WORDS[split]}`, { layers: split })}
          />
          <ChoiceRow
            label="Their order"
            value={rule.layerOrder}
            options={[
              ['stack', 'as they are stacked'],
              ['name', 'by their names'],
            ]}
            onSet={(layerOrder) => set(`layers ${layerOrder === 'stack' ? 'as stacked' : 'by name'}`, { layerOrder })}
          />
          <TextRow
            label="Names of layers"
            value={rule.layerName}
            most={MOST_PATTERN}
            problemOf={(text) => patternProblem(text, LAYER_WORDS, TELLING_LAYER_WORDS)}
            hint={layers === '' ? inBraces(LAYER_WORDS) : `${layers}. ${inBraces(LAYER_WORDS)}`}
            onSet={(layerName) => set(`layers called ${layerName}`, { layerName })}
          />
        </>
      )}
      <TextRow
        label="Names of files"
        value={rule.fileName}
        most={MOST_PATTERN}
        problemOf={(text) => patternProblem(text, FILE_WORDS, TELLING_FILE_WORDS)}
        hint={`${fileName}. ${inBraces(FILE_WORDS)}`}
        onSet={(pattern) => set(`files called ${pattern}`, { fileName: pattern })}
      />
      <PrintColours rule={rule} set={set} />
      <Box sx={{ display: 'flex', gap: 1, mb: 0.75 }}>
        <NumberField
          label="Resolution, in dpi (0: the page's)"
          value={rule.dpi ?? 0}
          least={0}
          most={MOST_DELIVERY_DPI}
          onSet={(dpi) =>
            set(dpi === 0 ? "the page's resolution" : `${dpi} dpi`, {
              dpi: dpi === 0 ? null : Math.max(LEAST_DELIVERY_DPI, dpi),
            })
          }
        />
      </Box>
      <ChoiceRow
        label="Of the page"
        value={rule.area}
        options={DELIVERY_AREAS.map((area) => [area, AREA_WORDS[area]])}
        onSet={(area) => set(AREA_WORDS[area], { area })}
      />
      <ChoiceRow
        label="Scene"
        value={rule.scene ?? ''}
        options={[['', "each page's own"], ...cast.scenes.map(({ id, name }): [string, string] => [id, name])]}
        onSet={(scene) => set(scene === '' ? "each page's own scene" : 'in one scene', { scene: scene === '' ? null : scene })} // prettier-ignore
      />
      <Typography variant="body2">Trap</Typography>
      <RuleField
        name="the delivery"
        rule={rule.trap}
        inherited="As the pages have it"
        {...lineFacts}
        onSet={(trap) => set(trap === null ? "the pages' trap" : `trap ${ruleWords(trap)}`, { trap })}
      />
      {canRunUnder(rule) && (
        <Box sx={{ display: 'flex', mb: 0.75 }}>
          <NumberField
            label="Underlap, in px (-1: the job's)"
            value={rule.underlapPx ?? -1}
            least={-1}
            most={64}
            onSet={(px) => set(px < 0 ? "the job's underlap" : `underlap ${px} px`, { underlapPx: px < 0 ? null : px })}
          />
        </Box>
      )}
      {isLayered && (
        <>
          <ChoiceRow
            label="Coloured lines"
            value={rule.holds}
            options={[
              ['layer', 'a layer of holds'],
              ['coloured', 'in the line art'],
            ]}
            onSet={(holds) => set(holds === 'layer' ? 'holds as a layer' : 'holds in the line art', { holds })}
          />
          <ChoiceRow
            label="Line art"
            value={String(rule.inkBits) as '8' | '1'}
            options={[
              ['8', '8 bits, soft edges'],
              ['1', '1 bit, black or nothing'],
            ]}
            onSet={(bits) => set(`line art of ${bits} bits`, { inkBits: bits === '1' ? 1 : 8 })}
          />
          {rule.inkBits === 1 && rule.format !== 'ora' && (
            <Box sx={{ display: 'flex', mb: 0.75 }}>
              <NumberField
                label="Its resolution, in dpi (0: the file's)"
                value={rule.inkDpi ?? 0}
                least={0}
                most={MOST_DELIVERY_DPI}
                onSet={(dpi) => set('line art', { inkDpi: dpi === 0 ? null : Math.max(LEAST_DELIVERY_DPI, dpi) })}
              />
            </Box>
          )}
          <Tick
            label="A white layer to shade on"
            on={rule.shading}
            onSet={(shading) => set('shading layer', { shading })}
          />
          <Tick
            label={rule.format === 'ora' ? 'Closures as a hidden layer' : 'Closures as a picture of their own'}
            on={rule.closures}
            onSet={(closures) => set('closures', { closures })}
          />
        </>
      )}
      {rule.format === 'svg' && (
        <Tick label="Smooth outlines" on={rule.smooth} onSet={(smooth) => set('smooth outlines', { smooth })} />
      )}
      <Tick label="With the page's notes" on={rule.notes} onSet={(notes) => set('notes', { notes })} />
      {rule.format === 'ora' && isLayered && (
        <Typography variant="caption" color="text.secondary" component="p">
          OpenRaster cannot say that transparency is locked; folders say it in their manifest.
        </Typography>
      )}
    </Box>
  );
}

const inBraces = (words: readonly string[]): string => words.map((word) => `{${word}}`).join(' ');

interface TickProps {
  readonly label: string;
  readonly on: boolean;
  readonly onSet: (on: boolean) => void;
}

function Tick({ label, on, onSet }: TickProps): ReactNode {
  return (
    <label style={{ display: 'flex', fontSize: 13, gap: 6, marginBottom: 4, alignItems: 'center' }}>
      <input
        type="checkbox"
        checked={on}
        onChange={(event) => {
          onSet(event.target.checked);
          event.target.blur();
        }}
      />
      {label}
    </label>
  );
}
