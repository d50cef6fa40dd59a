import { Box, Button, Checkbox, Flex, Text } from '@chakra-ui/react';
import { ChevronRight, Crosshair } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { elementLabel, type ElementIndex } from '@/core/elements/element-index';
import { branchesBy, type Branch, type BranchColumn } from '@/core/elements/branches';
import type { Where } from '@/core/elements/element-set';
import { plainNumber } from '@/core/plain-number';
import { RowAct, TOUCHED } from '../../controls';
import type { LookSession } from './look-session';

export const COLUMN_NAMES: Record<BranchColumn, string> = {
  category: 'Category',
  storey: 'Storey',
  material: 'Material',
  system: 'System',
  discipline: 'Discipline',
};
/** Branches lighter than this share show none. */
const SLIGHT = 0.005;
/** Why something cannot be ticked. */
const OUTSIDE = 'outside the box';
/** Elements that are listed at once. */
const PAGE = 100;

interface BranchRowProps {
  session: LookSession;
  index: ElementIndex;
  /** What it lies in; without a condition, the whole model. */
  parent: Where;
  column: BranchColumn;
  branch: Branch;
}

/** A branch with its tick; opened, what it consists of. */
export function BranchRow({ session, index, parent, column, branch: { value, rows, weight } }: BranchRowProps) {
  const [open, setOpen] = useState(false);
  const rule = useStore(session.store, (state) => state.rule!);
  const reasons = useStore(session.store, (state) => state.rows);
  const where: Where = [...parent, { is: column, value }];
  const revealed = rows.reduce((count, row) => count + (reasons[row] === null ? 1 : 0), 0);
  const isNew = column === 'category' && !rule.knownCategories.includes(value);
  const outside = rows.every((row) => reasons[row] === 'box');
  const label = value || `No ${COLUMN_NAMES[column].toLowerCase()}`;
  return (
    <Box as="li">
      <Row
        label={label}
        open={open}
        onOpen={() => setOpen(!open)}
        checked={revealed === 0 ? false : revealed === rows.length ? true : 'indeterminate'}
        disabled={outside}
        remark={isNew ? 'new' : outside ? OUTSIDE : ''}
        onToggle={() => session.toggle(where, rows)}
        count={
          revealed === rows.length || revealed === 0
            ? plainNumber(rows.length)
            : `${plainNumber(revealed)} of ${plainNumber(rows.length)}`
        }
        weight={weight}
        onFly={() => session.showRows(rows)}
      />
      {open ? <Within session={session} index={index} within={where} rows={rows} /> : null}
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
  within: Where;
  rows: number[];
}) {
  const triangles = useStore(session.store, (state) => state.triangles);
  const column: BranchColumn = within[0]?.is === 'category' ? 'storey' : 'category';
  const isPart = within.length > 1;
  const branches = useMemo(
    () => (isPart ? [] : branchesBy(index, column, triangles, rows)),
    [index, isPart, column, triangles, rows],
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
            remark={reasons[row] === 'box' ? OUTSIDE : ''}
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
