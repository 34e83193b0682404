import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { sourceQuery } from "../../api/queries";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { SourceForm } from "./SourceForm";

/** Adds a source, or changes the one in the address. */
export function SourceFormPage() {
  const { id } = useParams();
  return id === undefined ? <SourceForm source={null} /> : <ExistingSource id={Number(id)} />;
}

function ExistingSource({ id }: { id: number }) {
  const source = useQuery({ ...sourceQuery(id), staleTime: Infinity, refetchOnMount: "always" });
  if (source.isPending || source.isFetching) return <Loading what="the source" />;
  if (!source.data) return <Failure error={source.error} onRetry={() => void source.refetch()} />;
  return <SourceForm source={source.data} />;
}
