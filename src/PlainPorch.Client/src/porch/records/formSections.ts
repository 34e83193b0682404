import type { Column } from "../../api/client";

interface Section {
  section: string;
  columns: Column[];
}

/** Columns under their headings, in the panel's order. */
export function sectionsOf(columns: Column[]): Section[] {
  const sections: Section[] = [];
  for (const column of columns) {
    const known = sections.find(({ section }) => section === column.section);
    if (known) known.columns.push(column);
    else sections.push({ section: column.section, columns: [column] });
  }
  return sections;
}
