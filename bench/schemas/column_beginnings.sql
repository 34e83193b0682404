-- In another language, each table's columns begin with letters of their own, and refer by those of the other table.
CREATE TABLE vereine (ver_id integer PRIMARY KEY, ver_name varchar(60), ver_ort varchar(40));
CREATE TABLE mitglieder (mit_id integer PRIMARY KEY, mit_ver_id integer REFERENCES vereine, mit_nachname varchar(40), mit_vorname varchar(40), mit_seit date);
CREATE TABLE beitraege (bei_id integer PRIMARY KEY, bei_mit_id integer REFERENCES mitglieder, bei_betrag numeric(9,2), bei_jahr integer);
CREATE TABLE gruppen (gru_id integer PRIMARY KEY, gru_ver integer REFERENCES vereine, gru_bezeichnung varchar(60), gru_leiter_mit integer REFERENCES mitglieder);
CREATE TABLE teilnahmen (tei_id integer PRIMARY KEY, tei_gru_id integer REFERENCES gruppen, tei_mit_id integer REFERENCES mitglieder, tei_datum date);
CREATE TABLE raeume (rau_id integer PRIMARY KEY, rau_ver_id integer REFERENCES vereine, rau_name varchar(40), rau_plaetze integer);
CREATE TABLE belegungen (bel_id integer PRIMARY KEY, bel_rau_id integer REFERENCES raeume, bel_gru_id integer REFERENCES gruppen, bel_von timestamp, bel_bis timestamp);
