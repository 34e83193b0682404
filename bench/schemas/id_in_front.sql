-- id_ in front, singular tables, and references named after the part that a person plays in them.
CREATE TABLE parish (id_parish int PRIMARY KEY, name text, id_deanery int);
CREATE TABLE deanery (id_deanery int PRIMARY KEY, name text, dean int);
ALTER TABLE parish ADD FOREIGN KEY (id_deanery) REFERENCES deanery;
CREATE TABLE person (id_person int PRIMARY KEY, surname text, given text, id_parish int REFERENCES parish, id_father int REFERENCES person, id_mother int REFERENCES person);
ALTER TABLE deanery ADD FOREIGN KEY (dean) REFERENCES person;
CREATE TABLE baptism (id_baptism int PRIMARY KEY, id_person int REFERENCES person, id_godparent int REFERENCES person, celebrated date, id_church int);
CREATE TABLE church (id_church int PRIMARY KEY, dedication text, id_parish int REFERENCES parish, seats int);
ALTER TABLE baptism ADD FOREIGN KEY (id_church) REFERENCES church;
CREATE TABLE marriage (id_marriage int PRIMARY KEY, id_groom int REFERENCES person, id_bride int REFERENCES person, id_church int REFERENCES church, celebrated date);
INSERT INTO deanery SELECT n, 'Deanery ' || n FROM generate_series(1, 5) n;
INSERT INTO parish SELECT n, 'Parish ' || n, n % 5 + 1 FROM generate_series(1, 30) n;
INSERT INTO person SELECT n, 'Surname ' || n, 'Given ' || n, n % 30 + 1, CASE WHEN n > 200 THEN n - 200 END, CASE WHEN n > 200 THEN n - 150 END FROM generate_series(1, 900) n;
UPDATE deanery SET dean = id_deanery * 40;
INSERT INTO church SELECT n, 'Saint ' || n, n % 30 + 1, n * 10 FROM generate_series(1, 35) n;
INSERT INTO baptism SELECT n, n, n % 300 + 1, date '1950-01-01' + n * 20, n % 35 + 1 FROM generate_series(1, 700) n;
INSERT INTO marriage SELECT n, n * 2, n * 2 + 1, n % 35 + 1, date '1970-01-01' + n * 30 FROM generate_series(1, 300) n;
