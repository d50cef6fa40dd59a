'use client';
import { Box, Button, Flex, Text } from '@chakra-ui/react';
import { Blend, ChevronRight, Crosshair, Eye, EyeOff, Focus } from 'lucide-react';
import { useMemo, useState } from 'react';
import { contentsByStorey, searchElements, type ContentsNode } from '@/core/elements/contents';
import { columnValue } from '@/core/elements/element-index';
import { isSameWhere, setOf, soleElement, type Where } from '@/core/elements/element-set';
import { elementMask } from '@/core/elements/match-elements';
import type { StageModel } from '@/stage/model/stage-model';
import { QuietButton, RowAct, SearchField, TOUCHED } from '../../controls';
import { Toggle } from '../../toggle';
import { useReview, useSession } from '../session-context';
import { TakeAlong } from './take-along';
import { approvalOf, approvalWords } from '@/core/project/approval';
import type { StageModelSource } from '@/core/project/models';

const PAGE = 200;
/** How clear a branch becomes; the tray of Show changes it. */
const FADE = 0.75;

/** What there is: models with their switches, storeys, categories, elements; search; hide, show only, show all. */
export function Contents() {
  const session = useSession();
  const models = useReview((state) => state.models);
  const [query, setQuery] = useState('');
  useReview((state) => state.loaded);
  const loaded = session.stage?.loadedModels ?? [];
  return (
    <Box p="3">
      <SearchField
        label="Search the contents"
        placeholder="Search: door, oak, staff …"
        value={query}
        onSearch={setQuery}
        mb="2"
      />
      <Flex gap="2" mb="3">
        <QuietButton size="sm" onClick={() => session.view.showAll()}>
          Show all
        </QuietButton>
      </Flex>
      {models.map((model) => {
        const stageModel = loaded.find((other) => other.source.modelId === model.modelId);
        return query.trim() ? (
          stageModel ? (
            <SearchResults key={model.modelId} model={stageModel} query={query} />
          ) : null
        ) : (
          <ModelBranch key={model.modelId} model={model} stageModel={stageModel} />
        );
      })}
      {session.start.rights.take && loaded.length > 0 && !query.trim() ? <TakeAlong /> : null}
    </Box>
  );
}

function ModelBranch({ model, stageModel }: { model: StageModelSource; stageModel?: StageModel }) {
  const session = useSession();
  const off = useReview((state) => state.view.visibility.hiddenModels.includes(model.modelId));
  const shown = useShown(stageModel);
  const approval = useReview((state) => approvalOf(state.approvals, model.revisionId));
  const branches = useMemo(() => (stageModel ? contentsByStorey(stageModel.index) : []), [stageModel]);
  return (
    <Box as="section" aria-label={model.name} mb="3">
      <Flex align="center" minH="44px" gap="2">
        <Text fontWeight="bold" flex="1">
          {model.name}{' '}
          <Text as="span" color="softInk" fontWeight="normal">
            {model.code}
          </Text>
        </Text>
        <Toggle checked={!off} onToggle={() => session.view.switchModel(model.modelId)} name={`Show ${model.name}`} />
      </Flex>
      {approval ? (
        <Text fontSize="sm" color="softInk" mt="-2" mb="1">
          {approvalWords(approval)}
        </Text>
      ) : null}
      {stageModel ? (
        <Branches nodes={branches} model={stageModel} shown={shown} />
      ) : (
        <Text color="softInk" fontSize="sm">
          arriving …
        </Text>
      )}
    </Box>
  );
}

/** By row whether an element of a model is among what shows; worked out once for all lines. */
function useShown(model: StageModel | undefined): Uint8Array {
  const shown = useReview((state) => state.view.visibility.shown);
  return useMemo(() => (model ? elementMask(shown, model.elements) : new Uint8Array(0)), [shown, model]);
}

interface BranchesProps {
  nodes: ContentsNode[];
  model: StageModel;
  shown: Uint8Array;
}

function Branches({ nodes, model, shown }: BranchesProps) {
  const [count, setCount] = useState(PAGE);
  return (
    <Box as="ul" listStyleType="none" pl="3" ml="1" borderLeftWidth="1px" borderColor="seam">
      {nodes.slice(0, count).map((node) => (
        <Branch key={node.key} node={node} model={model} shown={shown} />
      ))}
      {nodes.length > count ? (
        <li>
          <Button variant="ghost" size="sm" onClick={() => setCount(count + PAGE)}>
            {nodes.length - count} more
          </Button>
        </li>
      ) : null}
    </Box>
  );
}

function Branch({ node, model, shown }: Omit<BranchesProps, 'nodes'> & { node: ContentsNode }) {
  const [open, setOpen] = useState(false);
  const isElement = node.children.length === 0;
  return (
    <Box as="li">
      <Row
        label={node.label}
        count={isElement ? undefined : node.count}
        rows={node.rows}
        where={node.where}
        model={model}
        shown={shown}
        open={isElement ? undefined : open}
        onOpen={isElement ? undefined : () => setOpen(!open)}
      />
      {open ? <Branches nodes={node.children} model={model} shown={shown} /> : null}
    </Box>
  );
}

function SearchResults({ model, query }: { model: StageModel; query: string }) {
  const rows = useMemo(() => searchElements(model.index, query), [model, query]);
  const shown = useShown(model);
  if (rows.length === 0) return null;
  return (
    <Box as="ul" listStyleType="none" mb="3">
      <li>
        <Row
          label={`${rows.length} found`}
          rows={rows}
          where={[{ is: 'search', value: query }]}
          model={model}
          shown={shown}
          strong
        />
      </li>
      {rows.slice(0, PAGE).map((row) => (
        <li key={row}>
          <Row
            label={model.index.name[row]!}
            detail={columnValue(model.index.category, row)}
            rows={[row]}
            where={[{ is: 'element', guids: [model.index.guid[row]!] }]}
            model={model}
            shown={shown}
          />
        </li>
      ))}
    </Box>
  );
}

interface RowProps {
  label: string;
  detail?: string;
  count?: number;
  rows: number[];
  /** What is asked of an element of the model to be on this line. */
  where: Where;
  model: StageModel;
  shown: Uint8Array;
  open?: boolean;
  strong?: boolean;
  /** Opens it, or closes it. */
  onOpen?: () => void;
}

function Row({ label, detail, count, rows, where, model, shown, open, strong, onOpen }: RowProps) {
  const session = useSession();
  const { modelId } = model.source;
  const wheres: Where[] = [[{ is: 'model', value: modelId }, ...where]];
  const selected = useReview((state) => {
    const { selection } = state.view;
    if (rows.length > 1) return selection.length === 1 && isSameWhere(selection[0]!, wheres[0]!);
    const sole = soleElement(selection);
    return sole?.model === modelId && sole.guid === model.index.guid[rows[0]!];
  });
  const isHidden = rows.every((row) => !shown[row]);
  return (
    <Flex align="center" borderRadius="md" bg={selected ? 'felt' : 'transparent'} _hover={{ bg: 'felt' }} role="group">
      {onOpen ? (
        <RowAct
          label={`Parts of ${label}`}
          aria-expanded={open}
          minW="28px"
          w="28px"
          onClick={onOpen}
          icon={<ChevronRight size={16} aria-hidden style={{ transform: open ? 'rotate(90deg)' : 'none' }} />}
        />
      ) : null}
      <Button
        variant="ghost"
        onClick={() => session.view.select(wheres)}
        aria-pressed={selected}
        h="36px"
        css={{ [TOUCHED]: { h: '44px' } }}
        px="1"
        flex="1"
        minW="0"
        justifyContent="start"
        gap="1"
        fontWeight={strong || selected ? 'bold' : 'normal'}
        color={isHidden ? 'softInk' : 'ink'}
        textDecoration={isHidden ? 'line-through' : 'none'}
        _hover={{ bg: 'transparent' }}
        _expanded={{ bg: 'transparent' }}
      >
        <Text truncate title={label}>
          {label}
        </Text>
        {count === undefined ? null : (
          <Text color="softInk" fontSize="sm">
            {count}
          </Text>
        )}
        {detail ? (
          <Text color="softInk" fontSize="sm" truncate>
            {detail}
          </Text>
        ) : null}
      </Button>
      <RowAct
        label={isHidden ? `Show ${label}` : `Hide ${label}`}
        onClick={() => (isHidden ? session.view.show(wheres) : session.view.hide(wheres))}
        icon={isHidden ? <EyeOff size={16} aria-hidden /> : <Eye size={16} aria-hidden />}
      />
      <RowAct
        label={`Show only ${label}`}
        onClick={() => session.view.showOnly(wheres)}
        icon={<Focus size={16} aria-hidden />}
      />
      <RowAct
        label={`Fade ${label}`}
        onClick={() => session.view.fade(setOf(wheres), FADE)}
        icon={<Blend size={16} aria-hidden />}
      />
      <RowAct
        label={`Fly to ${label}`}
        onClick={() => session.view.flyTo(wheres)}
        icon={<Crosshair size={16} aria-hidden />}
      />
    </Flex>
  );
}
