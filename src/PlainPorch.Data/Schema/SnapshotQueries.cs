namespace PlainPorch.Data.Schema;

/// <summary>The questions to PostgreSQL's own catalog that make a snapshot. Each takes the parameter <c>schemas</c>.</summary>
/// <remarks>
/// EF Core's database reader is not used: it leaves out columns whose type it cannot map and, with them, every key and
/// reference over such a column, so that a table keyed by an enum comes back without a key.
/// </remarks>
internal static class SnapshotQueries
{
    // Partitions are part of their table, and what extensions bring is theirs.
    private const string Chosen = """
        WITH chosen AS (
            SELECT c.oid, n.nspname, c.relname, c.relkind, c.reltuples,
                   has_schema_privilege(n.oid, 'USAGE') AS usable
            FROM pg_catalog.pg_class c
            JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace
            WHERE c.relkind IN ('r', 'p', 'f', 'v', 'm') AND NOT c.relispartition
              AND NOT EXISTS (SELECT FROM pg_catalog.pg_depend d WHERE d.classid = 'pg_catalog.pg_class'::regclass AND d.objid = c.oid AND d.deptype = 'e')
              AND CASE WHEN cardinality(@schemas) > 0 THEN n.nspname = ANY (@schemas)
                  ELSE n.nspname NOT IN ('information_schema', 'pg_catalog', 'pg_toast') AND n.nspname NOT LIKE 'pg\_temp\_%' AND n.nspname NOT LIKE 'pg\_toast\_temp\_%' END)

        """;

    /// <summary>Tables and views with their rights.</summary>
    public const string Relations =
        Chosen
        + """
            SELECT oid, nspname, relname, relkind::text, obj_description(oid, 'pg_class'),
                   CASE WHEN reltuples >= 0 AND relkind <> 'v' THEN reltuples::bigint END,
                   usable AND (has_table_privilege(oid, 'SELECT') OR has_any_column_privilege(oid, 'SELECT')),
                   usable AND (has_table_privilege(oid, 'INSERT') OR has_any_column_privilege(oid, 'INSERT')),
                   usable AND (has_table_privilege(oid, 'UPDATE') OR has_any_column_privilege(oid, 'UPDATE')),
                   usable AND has_table_privilege(oid, 'DELETE'),
                   CASE WHEN relkind IN ('v', 'm') THEN pg_get_viewdef(oid) END
            FROM chosen ORDER BY nspname, relname
            """;

    /// <summary>Columns.</summary>
    public const string Columns =
        Chosen
        + """
            SELECT a.attrelid, a.attname, a.atttypid, a.atttypmod, a.attnotnull, pg_get_expr(d.adbin, d.adrelid),
                   a.attidentity::text, a.attgenerated::text, col_description(a.attrelid, a.attnum)
            FROM chosen
            JOIN pg_catalog.pg_attribute a ON a.attrelid = chosen.oid AND a.attnum > 0 AND NOT a.attisdropped
            LEFT JOIN pg_catalog.pg_attrdef d ON d.adrelid = a.attrelid AND d.adnum = a.attnum
            WHERE has_column_privilege(a.attrelid, a.attnum, 'SELECT')
            ORDER BY a.attrelid, a.attnum
            """;

    /// <summary>Base types, domains and enums, with an enum's labels.</summary>
    public const string Types = """
        SELECT t.oid, n.nspname, t.typname, t.typtype::text, t.typbasetype, t.typtypmod, t.typelem,
               t.typcategory = 'A' AND t.typlen = -1 AND t.typelem <> 0 AND t.typname NOT IN ('int2vector', 'oidvector'), t.typnotnull,
               (SELECT array_agg(e.enumlabel::text ORDER BY e.enumsortorder) FROM pg_catalog.pg_enum e WHERE e.enumtypid = t.oid)
        FROM pg_catalog.pg_type t JOIN pg_catalog.pg_namespace n ON n.oid = t.typnamespace
        WHERE t.typrelid = 0 AND cardinality(@schemas) >= 0
        """;

    /// <summary>Primary keys and unique indexes over whole columns and all rows; attribute numbers resolved to names.</summary>
    public const string Keys =
        Chosen
        + """
            SELECT i.indrelid, k.relname,
                   ARRAY(SELECT a.attname::text FROM unnest(i.indkey::smallint[]) WITH ORDINALITY AS part(attnum, place)
                         JOIN pg_catalog.pg_attribute a ON a.attrelid = i.indrelid AND a.attnum = part.attnum
                         WHERE part.place <= i.indnkeyatts ORDER BY part.place),
                   i.indisprimary
            FROM chosen
            JOIN pg_catalog.pg_index i ON i.indrelid = chosen.oid
            JOIN pg_catalog.pg_class k ON k.oid = i.indexrelid
            WHERE i.indisunique AND i.indisvalid AND i.indpred IS NULL AND i.indexprs IS NULL
            ORDER BY i.indrelid, NOT i.indisprimary, k.relname
            """;

    /// <summary>Indexes, by their whole columns from the first one on.</summary>
    public const string Indexes =
        Chosen
        + """
            SELECT i.indrelid,
                   ARRAY(SELECT a.attname::text FROM unnest(i.indkey::smallint[]) WITH ORDINALITY AS part(attnum, place)
                         JOIN pg_catalog.pg_attribute a ON a.attrelid = i.indrelid AND a.attnum = part.attnum
                         WHERE part.place <= i.indnkeyatts ORDER BY part.place)
            FROM chosen
            JOIN pg_catalog.pg_index i ON i.indrelid = chosen.oid
            WHERE i.indisvalid AND i.indkey[0] <> 0
            ORDER BY i.indrelid, i.indexrelid
            """;

    /// <summary>Foreign keys.</summary>
    public const string ForeignKeys =
        Chosen
        + """
            SELECT f.conrelid, f.conname,
                   ARRAY(SELECT a.attname::text FROM unnest(f.conkey) WITH ORDINALITY AS part(attnum, place)
                         JOIN pg_catalog.pg_attribute a ON a.attrelid = f.conrelid AND a.attnum = part.attnum ORDER BY part.place),
                   rn.nspname, r.relname,
                   ARRAY(SELECT a.attname::text FROM unnest(f.confkey) WITH ORDINALITY AS part(attnum, place)
                         JOIN pg_catalog.pg_attribute a ON a.attrelid = f.confrelid AND a.attnum = part.attnum ORDER BY part.place),
                   f.confdeltype::text
            FROM chosen
            JOIN pg_catalog.pg_constraint f ON f.conrelid = chosen.oid AND f.contype = 'f' AND f.conparentid = 0
            JOIN pg_catalog.pg_class r ON r.oid = f.confrelid
            JOIN pg_catalog.pg_namespace rn ON rn.oid = r.relnamespace
            ORDER BY f.conrelid, f.conname
            """;

    /// <summary>Check constraints.</summary>
    public const string Checks =
        Chosen
        + """
            SELECT k.conrelid, k.conname,
                   ARRAY(SELECT a.attname::text FROM unnest(k.conkey) AS part(attnum)
                         JOIN pg_catalog.pg_attribute a ON a.attrelid = k.conrelid AND a.attnum = part.attnum ORDER BY a.attnum),
                   pg_get_expr(k.conbin, k.conrelid)
            FROM chosen
            JOIN pg_catalog.pg_constraint k ON k.conrelid = chosen.oid AND k.contype = 'c'
            ORDER BY k.conrelid, k.conname
            """;
}
