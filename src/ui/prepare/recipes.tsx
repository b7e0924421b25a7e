'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { BookmarkPlus, ChevronDown, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { api, type NamedRecipe } from '@/api';
import type { ModelItem, RecipeStep } from '@/core/piece';
/** Recipes that outlive a piece: the yard's, by name; and taking one to another model. */
import { counted } from '@/core/words/counted';
import { Menu, NameDialog } from '../kit';
import { say } from '../kit/say';
import { usePiece } from '../piece/context';
import { asStep, portable } from './steps';

export const useRecipes = (yard: string) => useQuery({ queryKey: ['recipes', yard], queryFn: () => api.listRecipes(yard) });

export function RecipesMenu({
  steps,
  models,
  current,
  onApply,
  onCopy,
}: {
  steps: readonly RecipeStep[];
  models: readonly ModelItem[];
  current: string;
  onApply: (steps: RecipeStep[]) => void;
  /** Puts these steps before another model. */
  onCopy: (to: string) => void;
}) {
  const yard = usePiece((s) => s.yard);
  const client = useQueryClient();
  const { data: kept = [] } = useRecipes(yard.id);
  const [naming, setNaming] = useState(false);
  const put = (list: Promise<NamedRecipe[]>, said: string) =>
    list.then(
      (all) => {
        client.setQueryData(['recipes', yard.id], all);
        say.message(said);
      },
      (e: Error) => say.error(e.message),
    );
  const own = portable(steps);
  const others = models.filter((m) => m.id !== current);
  return (
    <>
      <Menu
        label="Recipes"
        className="btn btn-line btn-sm btn-tight"
        align="right"
        button={
          <>
            <BookmarkPlus className="ico" />
            Recipes
            <ChevronDown className="ico" />
          </>
        }
        groups={[
          {
            id: 'These steps',
            entries: [
              {
                id: 'keep',
                label: 'Save these steps as a recipe of the yard …',
                off: own.length === 0 ? 'There is no step yet that another model could use' : undefined,
                act: () => setNaming(true),
              },
            ],
          },
          {
            id: 'others',
            title: 'Take these steps to',
            entries: own.length > 0 ? others.map((m) => ({ id: `to ${m.id}`, label: m.name, act: () => onCopy(m.id) })) : [],
          },
          {
            id: 'kept',
            title: `Recipes of ${yard.name}`,
            entries:
              kept.length > 0
                ? kept.map((r) => ({
                    id: r.id,
                    label: <span className="named text-[14px]">{r.name}</span>,
                    text: r.name,
                    about: counted(r.steps.length, 'step'),
                    act: () => onApply(r.steps.map((s) => ({ ...asStep(s), on: s.on }))),
                  }))
                : [{ id: 'none', label: 'None yet', off: 'Save one, and every piece of the yard can use it.', act: () => undefined }],
          },
          {
            id: 'out',
            title: 'Take out of the yard',
            entries: kept.map((r) => ({
              id: `out ${r.id}`,
              label: `Take ${r.name} out of the yard`,
              mark: <Trash2 className="ico" />,
              act: () => void put(api.dropRecipe(yard.id, r.id), `“${r.name}” is out of the yard.`),
            })),
          },
        ]}
      />
      {naming && (
        <NameDialog
          title="Save as a recipe of the yard"
          label="Name; one of the same name is written over"
          initial={kept.length === 0 ? 'House recipe' : `Recipe ${kept.length + 1}`}
          action="Save recipe"
          onDone={(name) => {
            setNaming(false);
            void put(api.keepRecipe(yard.id, { name, steps: own }), `“${name}” is kept in ${yard.name}.`);
          }}
          onClose={() => setNaming(false)}
        />
      )}
    </>
  );
}
