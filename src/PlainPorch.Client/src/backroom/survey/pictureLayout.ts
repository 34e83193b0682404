import ELK, { type ElkExtendedEdge, type ElkNode } from "elkjs/lib/elk-api";
import workerUrl from "elkjs/lib/elk-worker.min.js?url";
import type { Schemas } from "../../api/client";

type Survey = Schemas["SurveyDto"];
export type PictureTable = Schemas["SurveyTable"];

/** A reference between two tables, by all columns that make one. */
export interface Link {
  id: string;
  from: string;
  to: string;
  columns: string[];
  isDeclared: boolean;
}

export interface Graph {
  tables: Map<string, PictureTable>;
  links: Link[];
}

export interface Box {
  id: string;
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Layout {
  width: number;
  height: number;
  clusters: (Box & { label: string })[];
  nodes: Map<string, Box>;
  /** Routes of the links inside of a cluster; the others are drawn straight. */
  routes: Map<string, { x: number; y: number }[]>;
}

const NODE_HEIGHT = 40;
// From here on a finding is taken for true.
const THRESHOLD = 0.5;
const ALONE = "alone";

export const idOfTable = ({ schema, name }: { schema: string; name: string }) => `${schema}.${name}`;

/** The tables of a survey with the references that are taken for true. */
export function graphOf(survey: Survey): Graph {
  const tables = new Map(survey.tables.map((table) => [idOfTable(table), table]));
  const links = new Map<string, Link>();
  for (const { reference, confidence, verdict } of survey.findings) {
    if (!reference || verdict === "wrong" || (confidence < THRESHOLD && verdict !== "right")) continue;
    const from = `${reference.schema}.${reference.table}`;
    const to = `${reference.refSchema}.${reference.refTable}`;
    if (!tables.has(from) || !tables.has(to)) continue;
    const id = `${from} ${to}`;
    const known = links.get(id);
    if (known) known.columns.push(reference.columns.join(" + "));
    else links.set(id, { id, from, to, columns: [reference.columns.join(" + ")], isDeclared: reference.declared });
  }
  return { tables, links: [...links.values()] };
}

/** A table with all that it refers to and all that refers to it. */
export function neighbourhood(graph: Graph, center: string): Graph {
  const near = new Set([center]);
  for (const { from, to } of graph.links) {
    if (from === center) near.add(to);
    if (to === center) near.add(from);
  }
  return {
    tables: new Map([...graph.tables].filter(([id]) => near.has(id))),
    links: graph.links.filter(({ from, to }) => near.has(from) && near.has(to)),
  };
}

const layered = {
  "elk.algorithm": "layered",
  "elk.direction": "RIGHT",
  "elk.edgeRouting": "POLYLINE",
  "elk.spacing.nodeNode": "14",
  "elk.layered.spacing.nodeNodeBetweenLayers": "44",
  "elk.padding": "[top=14,left=14,bottom=14,right=14]",
};

let elk: InstanceType<typeof ELK> | null = null;

/** Lays tables out: each group by its references, the groups side by side. */
export async function layOut(graph: Graph, byClusters: boolean): Promise<Layout> {
  elk ??= new ELK({ workerUrl });
  const inner = graph.links.filter(
    ({ from, to }) => from !== to && (!byClusters || clusterOf(graph, from) === clusterOf(graph, to)),
  );
  const root: ElkNode = byClusters
    ? {
        id: "root",
        layoutOptions: { "elk.algorithm": "rectpacking", "elk.aspectRatio": "1.8", "elk.spacing.nodeNode": "26" },
        children: clustersOf(graph, inner),
      }
    : {
        id: "root",
        children: [
          {
            id: "all",
            layoutOptions: layered,
            children: [...graph.tables].map(([id, table]) => nodeOf(id, table)),
            edges: inner.map(edgeOf),
          },
        ],
      };
  return read(await elk.layout(root), byClusters, graph);
}

/** A group is called by the table that most others refer to. */
function labelOf(cluster: ElkNode, graph: Graph): string {
  const uses = (id: string) => graph.links.filter(({ to, from }) => to === id && from !== id).length;
  const ids = (cluster.children ?? []).map(({ id }) => id).toSorted((a, b) => uses(b) - uses(a));
  const head = ids[0] === undefined ? undefined : graph.tables.get(ids[0]);
  return cluster.id === `cluster ${ALONE}` ? "on their own" : (head?.name ?? "");
}

// Tables without company are put together, so that they do not scatter.
function clusterOf(graph: Graph, id: string): string {
  const cluster = graph.tables.get(id)?.cluster;
  const size = [...graph.tables.values()].filter((table) => table.cluster === cluster).length;
  return size > 1 ? String(cluster) : ALONE;
}

function clustersOf(graph: Graph, inner: Link[]): ElkNode[] {
  const members = new Map<string, string[]>();
  for (const id of graph.tables.keys()) {
    const cluster = clusterOf(graph, id);
    members.set(cluster, [...(members.get(cluster) ?? []), id]);
  }
  return [...members].map(([cluster, ids]) => ({
    id: `cluster ${cluster}`,
    layoutOptions:
      cluster === ALONE
        ? { "elk.algorithm": "rectpacking", "elk.spacing.nodeNode": "14", "elk.padding": layered["elk.padding"] }
        : layered,
    children: ids.map((id) => nodeOf(id, graph.tables.get(id))),
    edges: cluster === ALONE ? [] : inner.filter(({ from }) => ids.includes(from)).map(edgeOf),
  }));
}

function nodeOf(id: string, table: PictureTable | undefined): ElkNode {
  return { id, width: Math.max(90, 22 + 7.6 * (table?.name.length ?? 0)), height: NODE_HEIGHT };
}

function edgeOf({ id, from, to }: Link): ElkExtendedEdge {
  return { id, sources: [from], targets: [to] };
}

function read(root: ElkNode, byClusters: boolean, graph: Graph): Layout {
  const layout: Layout = {
    width: root.width ?? 0,
    height: root.height ?? 0,
    clusters: [],
    nodes: new Map(),
    routes: new Map(),
  };
  for (const cluster of root.children ?? []) {
    const { x = 0, y = 0, width = 0, height = 0 } = cluster;
    if (byClusters) layout.clusters.push({ id: cluster.id, x, y, width, height, label: labelOf(cluster, graph) });
    else [layout.width, layout.height] = [width, height];
    const [dx, dy] = byClusters ? [x, y] : [0, 0];
    for (const node of cluster.children ?? [])
      layout.nodes.set(node.id, {
        id: node.id,
        x: dx + (node.x ?? 0),
        y: dy + (node.y ?? 0),
        width: node.width ?? 0,
        height: node.height ?? 0,
      });
    for (const edge of cluster.edges ?? []) {
      const section = edge.sections?.[0];
      if (!section) continue;
      const points = [section.startPoint, ...(section.bendPoints ?? []), section.endPoint];
      layout.routes.set(
        edge.id,
        points.map((point) => ({ x: point.x + dx, y: point.y + dy })),
      );
    }
  }
  return layout;
}
