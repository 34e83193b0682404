import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap, type Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Field, inputClass } from "../../ui/Field";
import { formatMoment } from "../../values/format";
import { recipesQuery } from "./importQueries";
import { modeWords } from "./modeWords";

interface RecipesProps {
  address: PanelAddress;
  recipes: Schemas["RecipeDto"][];
  /** Whether files that arrive in the server's folder can be named: a developer's choice. */
  canWatch: boolean;
}

/** The recipes of a panel: kept imports, to be run again on the next files. */
export function Recipes({ address, recipes, canWatch }: RecipesProps) {
  if (recipes.length === 0) return null;
  return (
    <section className="grid gap-1">
      <h2 className="text-lg font-semibold">Recipes</h2>
      <ul className="border-t border-line">
        {recipes.map((recipe) => (
          <Recipe key={recipe.id} address={address} recipe={recipe} canWatch={canWatch} />
        ))}
      </ul>
    </section>
  );
}

function Recipe({
  address,
  recipe,
  canWatch,
}: {
  address: PanelAddress;
  recipe: Schemas["RecipeDto"];
  canWatch: boolean;
}) {
  const client = useQueryClient();
  const path = { ...address, recipe: recipe.id };
  const [pattern, setPattern] = useState(recipe.watches ?? "");
  const again = () => client.invalidateQueries({ queryKey: recipesQuery(address).queryKey });
  const remove = useMutation({
    mutationFn: () => unwrap(api.DELETE("/api/porches/{porch}/panels/{panel}/recipes/{recipe}", { params: { path } })),
    onSettled: again,
  });
  const watch = useMutation({
    mutationFn: () =>
      unwrap(
        api.PUT("/api/porches/{porch}/panels/{panel}/setup/recipes/{recipe}/watch", {
          params: { path },
          body: { pattern: pattern.trim() === "" ? null : pattern },
        }),
      ),
    onSettled: again,
  });
  const wrong = watch.error instanceof ApiError ? watch.error.fields.pattern : undefined;
  return (
    <li className="grid gap-2 border-b border-line py-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <span className="font-medium">{recipe.name}</span>
        <span className="text-sm text-faint">
          {modeWords[recipe.mode]}. {recipe.who}, {formatMoment(recipe.at)}
          {recipe.watches && !canWatch && `. Runs on files called ${recipe.watches} that arrive`}
        </span>
        <a
          className="link"
          download
          href={`/api/porches/${address.porch}/panels/${address.panel}/recipes/${recipe.id}/file`}
        >
          Take it as a file
        </a>
        <Button
          disabled={remove.isPending}
          onClick={() => {
            remove.mutate();
          }}
        >
          Remove
        </Button>
      </div>
      {canWatch && (
        <form
          className="flex flex-wrap items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            watch.mutate();
          }}
        >
          <Field label="Run it on files that arrive in the server’s folder" error={wrong}>
            {(slots) => (
              <input
                {...slots}
                className={`${inputClass} w-64`}
                placeholder="readings-*.csv"
                value={pattern}
                onChange={(event) => {
                  setPattern(event.target.value);
                }}
              />
            )}
          </Field>
          <Button type="submit" disabled={watch.isPending || pattern.trim() === (recipe.watches ?? "")}>
            Save
          </Button>
        </form>
      )}
      {remove.isError && <Failure error={remove.error} />}
      {watch.isError && wrong === undefined && <Failure error={watch.error} />}
    </li>
  );
}

/** Keeps an import with its settings by name, for the next file. */
export function KeepRecipe({ address, id }: { address: PanelAddress; id: string }) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const keep = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/imports/{import}/recipe", {
          params: { path: { ...address, import: id } },
          body: { name },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: recipesQuery(address).queryKey }),
  });
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        // Not the form around it.
        event.stopPropagation();
        if (name.trim() !== "") keep.mutate();
      }}
    >
      <Field
        label="Keep these settings as a recipe, for the next file"
        error={keep.error instanceof ApiError ? (keep.error.fields.name ?? keep.error.message) : keep.error?.message}
      >
        {(slots) => (
          <input
            {...slots}
            className={`${inputClass} w-64`}
            placeholder="Name"
            value={name}
            onChange={(event) => {
              setName(event.target.value);
              keep.reset();
            }}
          />
        )}
      </Field>
      <Button type="submit" disabled={keep.isPending || name.trim() === ""}>
        Keep
      </Button>
      {keep.isSuccess && (
        <span role="status" className="pb-1.5">
          Kept. It can be chosen before the next file.
        </span>
      )}
    </form>
  );
}
