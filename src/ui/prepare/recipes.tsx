'use client';
/** Recipes that outlive a piece: the yard's, by name; and taking one to another model. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { BookmarkPlus, ChevronDown, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { api, type NamedRecipe } from '@/api';
import type { ModelItem, RecipeStep } from '@/core/piece';
import { Menu, NameDialog } from '../kit';
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
        toast.success(said);
      },
      (e: Error) => toast.error(e.message),
    );
  const own = portable(steps);
  const others = models.filter((m) => m.id !== current);
  return (
    <>
      <Menu
        label="Recipes"
        className="btn btn-line btn-sm btn-tight"
        align="right"
        wide
        button={
          <>
            <BookmarkPlus className="ico" />
            Recipes
            <ChevronDown className="ico" />
          </>
        }
      >
        {(close) => (
          <div className="max-h-[320px] overflow-y-auto w-[290px]">
            <button
              type="button"
              role="menuitem"
              aria-disabled={own.length === 0}
              onClick={() => {
                if (own.length === 0) return;
                close();
                setNaming(true);
              }}
            >
              Save these steps as a recipe of the yard …
            </button>
            {others.length > 0 && own.length > 0 && <p className="head px-2 pt-2">Take these steps to</p>}
            {own.length > 0 &&
              others.map((m) => (
                <button
                  key={m.id}
                  type="button"
                  role="menuitem"
                  onClick={() => {
                    close();
                    onCopy(m.id);
                  }}
                >
                  <span className="truncate">{m.name}</span>
                </button>
              ))}
            <p className="head px-2 pt-2">Recipes of {yard.name}</p>
            {kept.length === 0 && <p className="text-micro soft px-2 py-1">None yet. Save one, and every piece of the yard can use it.</p>}
            {kept.map((r) => (
              <div key={r.id} className="flex items-center">
                <button
                  type="button"
                  role="menuitem"
                  className="flex-1 min-w-0"
                  onClick={() => {
                    close();
                    onApply(r.steps.map((s) => ({ ...asStep(s), on: s.on })));
                  }}
                >
                  <span className="min-w-0">
                    <span className="named text-[14px] block truncate">{r.name}</span>
                    <span className="text-micro soft">{r.steps.length === 1 ? '1 step' : `${r.steps.length} steps`}</span>
                  </span>
                </button>
                <button
                  type="button"
                  className="px-2 soft"
                  aria-label={`Take ${r.name} out of the yard`}
                  title="Take it out of the yard"
                  onClick={() => void put(api.dropRecipe(yard.id, r.id), `“${r.name}” is out of the yard.`)}
                >
                  <Trash2 className="ico" />
                </button>
              </div>
            ))}
          </div>
        )}
      </Menu>
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
