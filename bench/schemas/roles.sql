-- Columns named after the part that the other record plays, not after its table.
CREATE TABLE persons (id bigint PRIMARY KEY, login text UNIQUE, full_name text, manager_id bigint REFERENCES persons);
CREATE TABLE projects (id bigint PRIMARY KEY, title text, owner_id bigint REFERENCES persons, parent_id bigint REFERENCES projects);
CREATE TABLE tickets (id bigint PRIMARY KEY, project_id bigint REFERENCES projects, summary text, reporter_id bigint REFERENCES persons, assignee_id bigint REFERENCES persons, priority int, created_by bigint REFERENCES persons, approved_by bigint REFERENCES persons);
CREATE TABLE links (id bigint PRIMARY KEY, src_ticket_id bigint REFERENCES tickets, dst_ticket_id bigint REFERENCES tickets, kind int);
CREATE TABLE comments (id bigint PRIMARY KEY, ticket_id bigint REFERENCES tickets, author_id bigint REFERENCES persons, body text, votes int);
CREATE TABLE attachments (id bigint PRIMARY KEY, subject_type text, subject_id bigint, file_name text, uploaded_by bigint REFERENCES persons);
INSERT INTO persons SELECT n + 100, 'login' || n, 'Person ' || n FROM generate_series(1, 60) n;
UPDATE persons SET manager_id = id % 7 + 101 WHERE id > 107;
INSERT INTO projects SELECT n + 1000, 'Project ' || n, n % 60 + 101, CASE WHEN n > 5 THEN n % 5 + 1001 END FROM generate_series(1, 40) n;
INSERT INTO tickets SELECT n + 20000, n % 40 + 1001, 'Ticket ' || n, n % 60 + 101, n * 7 % 60 + 101, n % 4, n * 11 % 60 + 101, CASE WHEN n % 3 = 0 THEN n * 13 % 60 + 101 END FROM generate_series(1, 900) n;
INSERT INTO links SELECT n, n * 3 % 900 + 20001, n * 5 % 900 + 20001, n % 3 FROM generate_series(1, 300) n;
INSERT INTO comments SELECT n, n % 900 + 20001, n * 17 % 60 + 101, 'Comment ' || n, n % 9 FROM generate_series(1, 1500) n;
INSERT INTO attachments SELECT n, 'ticket', n % 900 + 20001, 'file' || n || '.pdf', n * 19 % 60 + 101 FROM generate_series(1, 200) n;
