import { Box, Button, Checkbox, Flex, Text } from '@chakra-ui/react';
import { ChevronRight, Crosshair } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { elementLabel, type ElementIndex } from '@/core/elements/element-index';
import { isWithheld } from '@/core/reveal/change-rule';
import { revealBranches, type RevealBranch } from '@/core/reveal/reveal-index';
import { REVEAL_COLUMNS, type Branch, type RevealColumn, type WithheldFor } from '@/core/reveal/reveal-rule';
import { plainNumber } from '@/core/plain-number';
import { RowAct, TOUCHED } from '../../controls';
import type { LookSession } from './look-session';

export const COLUMN_NAMES: Record<RevealColumn, string> = {
  category: 'Category',
  storey: 'Storey',
  material: 'Material',
  system: 'System',
  discipline: 'Discipline',
};
/** Branches lighter than this share show none. */
const SLIGHT = 0.005;
/** Elements that are listed at once. */
const PAGE = 100;

interface BranchRowProps {
  session: LookSession;
  index: ElementIndex;
  /** The branch that it lies in, if any. */
  parent: Branch | null;
  column: RevealColumn;
  branch: RevealBranch;
}

/** A branch with its tick; opened, what it consists of. */
export function BranchRow({ session, index, parent, column, branch: { value, rows, weight } }: BranchRowProps) {
  const [open, setOpen] = useState(false);
  const rule = useStore(session.store, (state) => state.rule!);
  const reasons = useStore(session.store, (state) => state.rows);
  const own: Branch = { column, value };
  const path: [Branch] | [Branch, Branch] = parent ? [parent, own] : [own];
  const revealed = rows.reduce((count, row) => count + (reasons[row] === null ? 1 : 0), 0);
  const isNew = column === 'category' && !rule.knownCategories.includes(value);
  // What others withhold, or the box, this tick cannot bring back.
  const others = (reason: WithheldFor | null) =>
    reason === 'box' || REVEAL_COLUMNS.some((other) => other === reason && path.every((part) => part.column !== other));
  const blocked = revealed === 0 && !isWithheld(rule, path) && rows.every((row) => others(reasons[row]!));
  const label = value || `No ${COLUMN_NAMES[column].toLowerCase()}`;
  return (
    <Box as="li">
      <Row
        label={label}
        open={open}
        onOpen={() => setOpen(!open)}
        checked={revealed === 0 ? false : revealed === rows.length ? true : 'indeterminate'}
        disabled={blocked}
        remark={isNew ? 'new' : blocked ? reasonWords(reasons[rows[0]!]!) : ''}
        onToggle={() => session.toggleBranch(path, rows)}
        count={
          revealed === rows.length || revealed === 0
            ? plainNumber(rows.length)
            : `${plainNumber(revealed)} of ${plainNumber(rows.length)}`
        }
        weight={weight}
        onFly={() => session.showRows(rows)}
      />
      {open ? <Within session={session} index={index} within={parent ? null : own} rows={rows} /> : null}
    </Box>
  );
}

/** What a branch consists of: by a second column where there is more than one of that, otherwise its elements. */
function Within({
  session,
  index,
  within,
  rows,
}: {
  session: LookSession;
  index: ElementIndex;
  /** Null for a part of a branch. */
  within: Branch | null;
  rows: number[];
}) {
  const triangles = useStore(session.store, (state) => state.triangles);
  const column: RevealColumn = within?.column === 'category' ? 'storey' : 'category';
  const branches = useMemo(
    () => (within ? revealBranches(index, column, triangles, rows) : []),
    [index, within, column, triangles, rows],
  );
  return (
    <Box as="ul" listStyleType="none" ms="3.5" ps="1" borderStartWidth="1px" borderColor="seam">
      {branches.length > 1 ? (
        branches.map((branch) => (
          <BranchRow
            key={branch.value}
            session={session}
            index={index}
            parent={within}
            column={column}
            branch={branch}
          />
        ))
      ) : (
        <Elements session={session} index={index} rows={rows} />
      )}
    </Box>
  );
}

/** Elements by name, each with its tick. */
export function Elements({ session, index, rows }: { session: LookSession; index: ElementIndex; rows: number[] }) {
  const [shown, setShown] = useState(PAGE);
  const reasons = useStore(session.store, (state) => state.rows);
  return (
    <>
      {rows.slice(0, shown).map((row) => (
        <Box as="li" key={row}>
          <Row
            label={elementLabel(index, row)}
            checked={reasons[row] === null}
            disabled={reasons[row] === 'box'}
            remark={reasons[row] === 'box' ? reasonWords('box') : ''}
            onToggle={() => session.setElements([row], reasons[row] !== null)}
            onFly={() => session.showRows([row])}
          />
        </Box>
      ))}
      {rows.length > shown ? (
        <li>
          <Button variant="ghost" size="sm" onClick={() => setShown(shown + PAGE)}>
            {plainNumber(rows.length - shown)} more
          </Button>
        </li>
      ) : null}
    </>
  );
}

interface RowProps {
  label: string;
  /** Absent where there is nothing to open. */
  open?: boolean;
  onOpen?: () => void;
  checked: boolean | 'indeterminate';
  disabled: boolean;
  remark: string;
  onToggle: () => void;
  count?: string;
  /** Share of the model's triangles, 0..1. */
  weight?: number;
  onFly: () => void;
}

function Row({ label, open, onOpen, checked, disabled, remark, onToggle, count, weight = 0, onFly }: RowProps) {
  return (
    <Flex align="center" gap="1">
      {onOpen ? (
        <RowAct
          label={`What is in ${label}`}
          aria-expanded={open}
          onClick={onOpen}
          icon={<ChevronRight size={16} aria-hidden style={{ transform: open ? 'rotate(90deg)' : 'none' }} />}
        />
      ) : null}
      <Checkbox.Root
        checked={checked}
        disabled={disabled}
        onCheckedChange={onToggle}
        minH="40px"
        css={{ [TOUCHED]: { minH: '44px' } }}
        flex="1"
        minW="0"
        ps={onOpen ? '0' : '2'}
      >
        <Checkbox.HiddenInput />
        <Checkbox.Control
          borderColor="softInk"
          _checked={{ bg: 'ink', borderColor: 'ink', color: 'card' }}
          _indeterminate={{ bg: 'card', borderColor: 'ink', color: 'ink' }}
        >
          <Checkbox.Indicator />
        </Checkbox.Control>
        <Checkbox.Label flex="1" minW="0" display="flex" gap="2">
          <Text as="span" flex="1" truncate title={label}>
            {label}
          </Text>
          {remark ? (
            <Text as="span" color="ochre" fontSize="sm" whiteSpace="nowrap">
              {remark}
            </Text>
          ) : null}
          {count ? (
            <Text as="span" color="softInk" fontSize="sm" whiteSpace="nowrap">
              {count}
            </Text>
          ) : null}
          {count ? (
            <Text as="span" color="softInk" fontSize="sm" w="40px" textAlign="end" whiteSpace="nowrap">
              {weight < SLIGHT ? '' : `${Math.round(weight * 100)} %`}
              <Text as="span" srOnly>
                {weight < SLIGHT ? '' : ' of the weight'}
              </Text>
            </Text>
          ) : null}
        </Checkbox.Label>
      </Checkbox.Root>
      <RowAct label={`Fly to ${label}`} onClick={onFly} icon={<Crosshair size={16} aria-hidden />} />
    </Flex>
  );
}

/** Why something cannot be ticked here. */
function reasonWords(reason: WithheldFor): string {
  if (reason === 'box') return 'outside the box';
  return reason === 'element' || reason === 'part' || reason === 'new' ? '' : `withheld by ${reason}`;
}
