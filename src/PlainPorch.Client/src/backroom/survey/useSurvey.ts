import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, unwrap } from "../../api/client";
import { surveyStatusQuery } from "../../api/queries";

/** Starts and stops the survey of a source; it runs on whether anybody looks or not. */
export function useSurvey(sourceId: number) {
  const client = useQueryClient();
  const { queryKey } = surveyStatusQuery(sourceId);
  const path = { id: sourceId };
  const start = useMutation({
    mutationFn: (thenDraft: boolean) =>
      unwrap(api.POST("/api/sources/{id}/survey", { params: { path }, body: { thenDraft } })),
    onSuccess: (status) => {
      client.setQueryData(queryKey, status);
    },
  });
  const stop = useMutation({
    mutationFn: () => unwrap(api.POST("/api/sources/{id}/survey/stop", { params: { path } })),
    onSuccess: () => client.invalidateQueries({ queryKey }),
  });
  return { start, stop };
}
