import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, ifMatch, unwrap, type Source, type SourceRequest } from "../../api/client";
import { ApiError } from "../../api/problems";

const empty: SourceRequest = {
  name: "",
  host: "localhost",
  port: 5432,
  database: "",
  user: "",
  password: null,
  tls: "prefer",
  schemas: [],
  isReadOnly: false,
};

/** What is typed about a source, tried out and saved. What was tried holds only as long as nothing is typed over it. */
export function useSourceForm(source: Source | null) {
  const [fields, setFields] = useState<SourceRequest>(() => (source ? fromSource(source) : empty));
  const [port, setPort] = useState(String(fields.port));
  const [schemas, setSchemas] = useState(fields.schemas.join(", "));
  const navigate = useNavigate();
  const client = useQueryClient();

  const request = () => requestOf(fields, port, schemas);
  const trial = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/sources/try", { body: request(), params: { query: source ? { known: source.id } : {} } })),
  });
  const save = useMutation({
    mutationFn: () => write(source, request()),
    onMutate: () => {
      trial.reset();
    },
    onSuccess: async (saved) => {
      await client.invalidateQueries();
      void navigate(`/back/sources/${saved.id}`);
    },
  });
  const failure = save.error ?? trial.error;
  const errors = failure instanceof ApiError ? failure.fields : {};

  const set = (part: Partial<SourceRequest>) => {
    setFields((before) => ({ ...before, ...part }));
    trial.reset();
  };

  return {
    fields,
    port,
    schemas,
    trial,
    save,
    failure,
    errors,
    set,
    setPort: (text: string) => {
      setPort(text);
      trial.reset();
    },
    setSchemas: (text: string) => {
      setSchemas(text);
      trial.reset();
    },
    /** Fills in what was read from a connection string; where that has no password, the typed one stays. */
    take: ({ port: readPort, ...rest }: Partial<SourceRequest> & { port: number; password: string | null }) => {
      setPort(String(readPort));
      const name = fields.name.trim() === "" && rest.database ? nameOf(rest.database) : fields.name;
      rest = { ...rest, name };
      set(rest.password === null ? { ...rest, password: fields.password } : rest);
      save.reset();
    },
  };
}

/** A name for people, of a database's own: “harbour_office” is “Harbour office”. */
export function nameOf(database: string): string {
  const words = database.replace(/[_-]+/g, " ").trim();
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** What is sent of the typed texts: a port that is no number is 0, which the server refuses at its field. */
export function requestOf(fields: SourceRequest, port: string, schemas: string): SourceRequest {
  return {
    ...fields,
    port: /^\d+$/.test(port.trim()) ? Number(port) : 0,
    schemas: schemas
      .split(",")
      .map((schema) => schema.trim())
      .filter((schema) => schema !== ""),
  };
}

function fromSource(source: Source): SourceRequest {
  const { name, host, port, database, user, tls, schemas, isReadOnly } = source;
  return { name, host, port, database, user, password: null, tls, schemas, isReadOnly };
}

function write(source: Source | null, body: SourceRequest): Promise<Source> {
  if (source === null) return unwrap(api.POST("/api/sources", { body }));
  return unwrap(
    api.PUT("/api/sources/{id}", { body, params: { path: { id: source.id }, header: ifMatch(source.version) } }),
  );
}
