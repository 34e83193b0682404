import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap, type Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import { wordsQuery } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { inputClass } from "../../ui/Field";
import { Loading } from "../../ui/Loading";

type Word = Schemas["SourceWord"];

/** A source's own word list: what the abbreviations in its names mean. */
export function WordsView({ sourceId }: { sourceId: number }) {
  const words = useQuery({ ...wordsQuery(sourceId), staleTime: Infinity });
  if (words.isPending) return <Loading what="the words" />;
  if (!words.data) return <Failure error={words.error} onRetry={() => void words.refetch()} />;
  return <WordList sourceId={sourceId} kept={words.data.words} />;
}

function WordList({ sourceId, kept }: { sourceId: number; kept: Word[] }) {
  const [words, setWords] = useState<Word[]>([...kept, { word: "", means: "" }]);
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: () =>
      unwrap(api.PUT("/api/sources/{id}/words", { params: { path: { id: sourceId } }, body: { words } })),
    onSuccess: async (saved) => {
      setWords([...saved.words, { word: "", means: "" }]);
      await client.invalidateQueries();
    },
  });
  const errors = save.error instanceof ApiError ? save.error.fields : {};
  const change = (index: number, part: Partial<Word>) => {
    const next = words.map((word, i) => (i === index ? { ...word, ...part } : word));
    const last = next[next.length - 1];
    if (last && (last.word || last.means)) next.push({ word: "", means: "" });
    setWords(next);
  };
  return (
    <form
      className="grid max-w-2xl gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <p>
        What the abbreviations in this source&rsquo;s names mean. Saving relabels every column that nobody labelled by
        hand, and the next survey reads names by it.
      </p>
      <table className="w-full border-collapse">
        <thead>
          <tr className="text-left text-sm text-faint">
            <th className="py-1 pr-3 font-semibold">In names</th>
            <th className="py-1 font-semibold">In labels</th>
          </tr>
        </thead>
        <tbody>
          {words.map((word, index) => (
            <tr key={index} className="align-top">
              <td className="w-40 py-1 pr-3">
                <input
                  aria-label={`Word ${index + 1}`}
                  aria-invalid={errors[`words.${index}`] ? true : undefined}
                  className={inputClass}
                  value={word.word}
                  placeholder={index === words.length - 1 ? "such as LOA" : undefined}
                  onChange={(event) => {
                    change(index, { word: event.target.value });
                  }}
                />
              </td>
              <td className="py-1">
                <input
                  aria-label={`Meaning ${index + 1}`}
                  aria-invalid={errors[`words.${index}`] ? true : undefined}
                  className={inputClass}
                  value={word.means}
                  placeholder={index === words.length - 1 ? "length overall" : undefined}
                  onChange={(event) => {
                    change(index, { means: event.target.value });
                  }}
                />
                {errors[`words.${index}`] && (
                  <p role="alert" className="text-sm font-medium text-danger">
                    {errors[`words.${index}`]}
                  </p>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {save.isError && Object.keys(errors).length === 0 && <Failure error={save.error} />}
      <div className="flex flex-wrap items-center gap-3">
        <Button tone="next" type="submit" disabled={save.isPending}>
          {save.isPending ? "Saving …" : "Save words"}
        </Button>
        {save.data && (
          <span role="status" className="text-faint">
            Saved; {save.data.relabelled === 1 ? "1 label" : `${save.data.relabelled} labels`} of panels changed.
          </span>
        )}
        <span className="text-sm text-faint">To remove a word, clear both of its cells.</span>
      </div>
    </form>
  );
}
