import { MAX_UNDERLAP_PX, type SolidTrap, type TrapRule } from '@jumble/core';
import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { counted } from '../../../measures.ts';
import { tones } from '../../../theme.ts';
import { NumberField } from '../../NumberField.tsx';
import { Note } from '../../Note.tsx';
import { showBox } from '../../page/look.ts';
import { panelsOf } from '../../page/panels.ts';
import { cannotBeTold, ruleWords } from '../../page/ruleWords.ts';
import { PanelSection } from '../../PanelSection.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { useLineFacts } from './useLineFacts.ts';
import { RuleField } from './RuleField.tsx';
import { chooseArea, removeAreas, setAreaRule, setJobTrap, setPageTrap, setPanelTrap, setPartTrap } from './rules.ts';

/** The rules of trap, from the job's to single places: each counts more than those above it. */
export function TrapRules(): ReactNode {
  const isThere = useBenchState((state) => state.cast !== null && state.document !== null && state.survey !== null);
  if (!isThere) return <Note>The rules are listed once the page is read.</Note>;
  return (
    <Box sx={{ overflowY: 'auto', flex: 1, pb: 1.5 }}>
      <PanelSection title="Job">
        <JobRule />
      </PanelSection>
      <PanelSection title="This page">
        <PageRule />
      </PanelSection>
      <PanelSection title="Panels">
        <PanelRules />
      </PanelSection>
      <PanelSection title="Parts">
        <PartRules />
      </PanelSection>
      <PanelSection title="Areas">
        <Areas />
      </PanelSection>
      <PanelSection title="In the whole job">
        <JobInk />
      </PanelSection>
    </Box>
  );
}

function JobRule(): ReactNode {
  const bench = useBench();
  const rule = useBenchState((state) => state.cast!.trap.rule);
  const facts = useLineFacts();
  return (
    <RuleField
      name="the job"
      rule={rule}
      {...facts}
      onSet={(next) => next !== null && setJobTrap(bench, { rule: next }, `Trap of the job ${ruleWords(next)}`)}
    />
  );
}

function PageRule(): ReactNode {
  const bench = useBench();
  const rule = useBenchState((state) => state.document!.trap);
  const ofJob = useBenchState((state) => state.cast!.trap.rule);
  const facts = useLineFacts();
  const cannot = cannotBeTold(rule ?? ofJob, facts.dpi);
  return (
    <>
      <RuleField
        name="this page"
        rule={rule}
        inherited="As the job"
        {...facts}
        onSet={(next) => setPageTrap(bench, next)}
      />
      {cannot !== null && (
        <Typography variant="caption" color="error" component="p" role="status">
          {cannot}
        </Typography>
      )}
    </>
  );
}

interface RowProps {
  readonly name: string;
  readonly removes: string;
  readonly onRemove: () => void;
  readonly children: ReactNode;
}

/** One exception, with what takes it away. */
function Row({ name, removes, onRemove, children }: RowProps): ReactNode {
  return (
    <Box component="li" sx={{ py: 0.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'center' }}>
        <Typography variant="body2" sx={{ flex: 1, minWidth: 0 }} noWrap>
          {name}
        </Typography>
        <IconButton aria-label={removes} onClick={onRemove} sx={{ p: 0.25 }}>
          <CloseIcon sx={{ fontSize: 15 }} />
        </IconButton>
      </Box>
      {children}
    </Box>
  );
}

const LIST = { m: 0, p: 0, listStyle: 'none' } as const;

interface AdderProps {
  readonly words: string;
  readonly options: readonly { readonly id: string; readonly name: string }[];
  readonly onAdd: (id: string) => void;
}

/** Chooses what gets a rule of its own next. */
function Adder({ words, options, onAdd }: AdderProps): ReactNode {
  if (options.length === 0) return null;
  return (
    <select
      aria-label={words}
      value=""
      onChange={(event) => {
        onAdd(event.target.value);
        event.target.blur();
      }}
      style={{ font: 'inherit', fontSize: 12.5, color: tones.quiet, width: '100%' }}
    >
      <option value="">{words} …</option>
      {options.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  );
}

const MIDDLE: TrapRule = { rule: 'middle' };

function PanelRules(): ReactNode {
  const bench = useBench();
  const document = useBenchState((state) => state.document);
  const found = useBenchState((state) => state.facts);
  const facts = useLineFacts();
  const panels = panelsOf({ document, facts: found });
  if (panels.length === 0) return <Note>No panel is known here yet.</Note>;
  return (
    <>
      <Box component="ul" sx={LIST}>
        {panels.map(({ trap }, k) =>
          trap === undefined ? null : (
            <Row
              key={k}
              name={`Panel ${k + 1}`}
              removes={`Panel ${k + 1} as the page`}
              onRemove={() => setPanelTrap(bench, k, null)}
            >
              <RuleField
                name={`panel ${k + 1}`}
                rule={trap}
                {...facts}
                onSet={(next) => setPanelTrap(bench, k, next)}
              />
            </Row>
          ),
        )}
      </Box>
      <Adder
        words="A rule for a panel"
        options={panels.flatMap(({ trap }, k) =>
          trap === undefined ? [{ id: String(k), name: `Panel ${k + 1}` }] : [],
        )}
        onAdd={(k) => setPanelTrap(bench, Number(k), MIDDLE)}
      />
    </>
  );
}

function PartRules(): ReactNode {
  const bench = useBench();
  const cast = useBenchState((state) => state.cast!);
  const used = useBenchState((state) => state.regionsOfPart);
  const facts = useLineFacts();
  const nameOf = (groupId: string, name: string): string =>
    `${cast.groups.find(({ id }) => id === groupId)?.name ?? ''}: ${name}`;
  return (
    <>
      <Box component="ul" sx={LIST}>
        {cast.parts.map((part) =>
          part.trap === undefined ? null : (
            <Row
              key={part.id}
              name={nameOf(part.groupId, part.name)}
              removes={`${part.name} as the page`}
              onRemove={() => setPartTrap(bench, part, null)}
            >
              <RuleField
                name={part.name}
                rule={part.trap}
                {...facts}
                onSet={(next) => setPartTrap(bench, part, next)}
              />
            </Row>
          ),
        )}
      </Box>
      <Adder
        words="A rule for a part"
        options={cast.parts
          .filter(({ id, trap, empty }) => trap === undefined && !empty && used.has(id))
          .map(({ id, groupId, name }) => ({ id, name: nameOf(groupId, name) }))}
        onAdd={(id) => {
          const part = cast.parts.find((one) => one.id === id);
          if (part !== undefined) setPartTrap(bench, part, MIDDLE);
        }}
      />
    </>
  );
}

/** More areas than this are counted, not listed. */
const LISTED = 8;

function Areas(): ReactNode {
  const bench = useBench();
  const areas = useBenchState((state) => state.document!.areas);
  const chosen = useBenchState((state) => state.areaId);
  const areaRule = useBenchState((state) => state.areaRule);
  const facts = useLineFacts();
  const all = [...areas].sort(([, a], [, b]) => b.stamp - a.stamp);
  return (
    <>
      <Typography variant="caption" color="text.secondary" component="p">
        Drag on the page to draw one. It gets:
      </Typography>
      <RuleField
        name="new areas"
        rule={areaRule}
        {...facts}
        onSet={(next) => next !== null && bench.set({ areaRule: next })}
      />
      <Box component="ul" sx={{ ...LIST, mt: 0.5 }}>
        {all.slice(0, LISTED).map(([id, { points, rule }]) => (
          <Box
            component="li"
            key={id}
            sx={{ bgcolor: id === chosen ? '#fff' : 'transparent', mx: -0.5, px: 0.5 }}
            aria-current={id === chosen}
          >
            <Box sx={{ display: 'flex', alignItems: 'center' }}>
              <Button
                sx={{ flex: 1, justifyContent: 'flex-start', px: 0, fontWeight: 400, minWidth: 0 }}
                onClick={() => {
                  chooseArea(bench, id);
                  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
                  showBox(bench, [
                    Math.min(...xs) - 30,
                    Math.min(...ys) - 30,
                    Math.max(...xs) + 30,
                    Math.max(...ys) + 30,
                  ]);
                }}
              >
                {ruleWords(rule)}
              </Button>
              <IconButton aria-label="Remove this area" onClick={() => removeAreas(bench, [id])} sx={{ p: 0.25 }}>
                <CloseIcon sx={{ fontSize: 15 }} />
              </IconButton>
            </Box>
            {id === chosen && (
              <RuleField
                name="this area"
                rule={rule}
                {...facts}
                onSet={(next) => next !== null && setAreaRule(bench, id, next)}
              />
            )}
          </Box>
        ))}
      </Box>
      {all.length > LISTED && <Note>and {counted(all.length - LISTED, 'earlier area')}</Note>}
      {all.length > 1 && (
        <Button
          onClick={() =>
            removeAreas(
              bench,
              all.map(([id]) => id),
            )
          }
        >
          Remove all {all.length} areas
        </Button>
      )}
    </>
  );
}

type SolidKind = SolidTrap['rule'];

const SOLID_WORDS: Record<SolidKind, string> = {
  line: 'as under lines',
  all: 'all the way',
  edge: 'under their soft edge alone',
  depth: 'to a depth in px',
};

/** Solid blacks, dry ink, and slack between layers. */
function JobInk(): ReactNode {
  const bench = useBench();
  const trap = useBenchState((state) => state.cast!.trap);
  const crumbLimit = useBenchState((state) => state.survey!.crumbLimitPx2);
  const pinholes = useBenchState((state) => state.trapInk.pinholes?.count ?? 0);
  const { solids, pinholePx2, underlapPx } = trap;
  const setSolids = (next: SolidTrap): void => setJobTrap(bench, { solids: next }, 'Trap under solid blacks');
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <label style={{ fontSize: 13 }}>
        Under solid blacks{' '}
        <select
          value={solids.rule}
          onChange={(event) => {
            const rule = event.target.value as SolidKind;
            setSolids(rule === 'depth' ? { rule, depthPx: 4 } : { rule });
            event.target.blur();
          }}
          style={{ font: 'inherit', width: '100%', padding: '3px 2px' }}
        >
          {(Object.keys(SOLID_WORDS) as SolidKind[]).map((rule) => (
            <option key={rule} value={rule}>
              {SOLID_WORDS[rule]}
            </option>
          ))}
        </select>
      </label>
      {solids.rule === 'depth' && 'depthPx' in solids && (
        <NumberField
          label="Depth under solid blacks, in px"
          value={solids.depthPx}
          least={0}
          most={200}
          onSet={(depthPx) => setSolids({ rule: 'depth', depthPx })}
        />
      )}
      <NumberField
        label="Pinholes in strokes, below px²"
        value={pinholePx2 === 'auto' ? crumbLimit : pinholePx2}
        least={0}
        most={crumbLimit}
        onSet={(limit) => setJobTrap(bench, { pinholePx2: limit }, `Pinholes below ${limit} px² take colour as ink`)}
      />
      <Typography variant="caption" color="text.secondary">
        {counted(pinholes, 'pinhole')} here {pinholes === 1 ? 'takes' : 'take'} colour as if{' '}
        {pinholes === 1 ? 'it' : 'they'} were ink.
        {pinholePx2 !== 'auto' && (
          <Button
            sx={{ py: 0, minWidth: 0 }}
            onClick={() => setJobTrap(bench, { pinholePx2: 'auto' }, 'Pinholes as large as crumbs take colour as ink')}
          >
            Auto
          </Button>
        )}
      </Typography>
      <NumberField
        label="Layers run under each other, in px"
        value={underlapPx}
        least={0}
        most={MAX_UNDERLAP_PX}
        onSet={(px) => setJobTrap(bench, { underlapPx: px }, `Underlap of ${px} px`)}
      />
    </Box>
  );
}
