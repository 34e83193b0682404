-- Many joining tables, most of them empty, with and without a key of their own.
CREATE TABLE singers (id integer PRIMARY KEY, name text);
CREATE TABLE choirs (id integer PRIMARY KEY, name text);
CREATE TABLE songs (id integer PRIMARY KEY, title text);
CREATE TABLE concerts (id integer PRIMARY KEY, title text, day date);
CREATE TABLE tags (id integer PRIMARY KEY, tag text);
CREATE TABLE choirs_singers (choir_id integer REFERENCES choirs, singer_id integer REFERENCES singers, PRIMARY KEY (choir_id, singer_id));
CREATE TABLE concert_songs (id serial PRIMARY KEY, concert_id integer REFERENCES concerts, song_id integer REFERENCES songs, UNIQUE (concert_id, song_id));
CREATE TABLE songs_tags (song_id integer REFERENCES songs, tag_id integer REFERENCES tags);
CREATE TABLE concert_choir (id serial PRIMARY KEY, concert_id integer REFERENCES concerts, choir_id integer REFERENCES choirs, created_at timestamptz DEFAULT now());
CREATE TABLE singer_to_song (singer integer REFERENCES singers, song integer REFERENCES songs, place integer);
CREATE TABLE rehearsals (id integer PRIMARY KEY, choir_id integer REFERENCES choirs, concert_id integer REFERENCES concerts, place text);
CREATE TABLE absences (id integer PRIMARY KEY, rehearsal_id integer REFERENCES rehearsals, singer_id integer REFERENCES singers, reason text);
INSERT INTO singers SELECT n, 'Singer ' || n FROM generate_series(1, 40) n;
INSERT INTO choirs SELECT n, 'Choir ' || n FROM generate_series(1, 5) n;
INSERT INTO songs SELECT n, 'Song ' || n FROM generate_series(1, 80) n;
INSERT INTO choirs_singers SELECT 1 + n % 5, n FROM generate_series(1, 40) n;
