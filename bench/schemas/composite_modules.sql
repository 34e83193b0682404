-- A feed mill: modules by prefix, keys of several columns, a table that refers now here, now there, and two tables whose
-- numbers overlap fully by chance.
CREATE TABLE stk_site (site_cd varchar(4) PRIMARY KEY, site_name varchar(40) NOT NULL);
CREATE TABLE stk_bin (site_cd varchar(4) NOT NULL REFERENCES stk_site, bin_no integer NOT NULL, holds_t numeric(6,1), PRIMARY KEY (site_cd, bin_no));
CREATE TABLE stk_material (material_id integer PRIMARY KEY, name varchar(40) NOT NULL, protein_pct numeric(4,1));
CREATE TABLE stk_bin_level (level_id integer PRIMARY KEY, site_cd varchar(4) NOT NULL, bin_no integer NOT NULL, material_id integer REFERENCES stk_material, tonnes numeric(6,1), taken_on date,
    FOREIGN KEY (site_cd, bin_no) REFERENCES stk_bin);
CREATE TABLE mil_recipe (recipe_id integer PRIMARY KEY, title varchar(40) NOT NULL, animal varchar(12));
CREATE TABLE mil_recipe_version (recipe_id integer NOT NULL REFERENCES mil_recipe, version integer NOT NULL, valid_from date, PRIMARY KEY (recipe_id, version));
CREATE TABLE mil_recipe_part (recipe_id integer NOT NULL, version integer NOT NULL, material_id integer NOT NULL REFERENCES stk_material, share numeric(5,2), PRIMARY KEY (recipe_id, version, material_id),
    FOREIGN KEY (recipe_id, version) REFERENCES mil_recipe_version);
CREATE TABLE mil_run (run_id integer PRIMARY KEY, recipe_id integer NOT NULL, version integer NOT NULL, site_cd varchar(4) REFERENCES stk_site, started timestamp, tonnes numeric(6,1),
    FOREIGN KEY (recipe_id, version) REFERENCES mil_recipe_version);
CREATE TABLE com_farm (farm_id integer PRIMARY KEY, farm_name varchar(40) NOT NULL, herd integer);
CREATE TABLE com_haulier (haulier_id integer PRIMARY KEY, firm varchar(40) NOT NULL);
CREATE TABLE com_delivery (delivery_id integer PRIMARY KEY, farm_id integer NOT NULL REFERENCES com_farm, haulier_id integer REFERENCES com_haulier, run_id integer REFERENCES mil_run, day date);
-- Remarks on anything: no key can say on what.
CREATE TABLE com_remark (remark_id integer PRIMARY KEY, subject_type varchar(12) NOT NULL, subject_id integer NOT NULL, body text);

INSERT INTO stk_site SELECT 'S' || n, 'Site ' || n FROM generate_series(1, 4) n;
INSERT INTO stk_bin SELECT 'S' || s, b, 10 + b FROM generate_series(1, 4) s, generate_series(1, 12) b;
INSERT INTO stk_material SELECT n, 'Material ' || n, 8 + n % 30 FROM generate_series(1, 60) n;
INSERT INTO stk_bin_level SELECT n, 'S' || 1 + n % 4, 1 + (n / 4) % 12, 1 + (n * 7) % 60, n % 20, date '2024-01-01' + n % 300 FROM generate_series(1, 900) n;
INSERT INTO mil_recipe SELECT n, 'Recipe ' || n, (ARRAY['hen', 'pig', 'cow'])[1 + n % 3] FROM generate_series(1, 40) n;
INSERT INTO mil_recipe_version SELECT r, v, date '2023-01-01' + 30 * v FROM generate_series(1, 40) r, generate_series(1, 3) v;
INSERT INTO mil_recipe_part SELECT r, v, m, 10 FROM generate_series(1, 40) r, generate_series(1, 3) v, generate_series(1, 6) m;
INSERT INTO mil_run SELECT n, 1 + n % 40, 1 + n % 3, 'S' || 1 + n % 4, timestamp '2024-01-01' + n * interval '5 hours', n % 15 FROM generate_series(1, 500) n;
INSERT INTO com_farm SELECT n, 'Farm ' || n, 20 + n FROM generate_series(1, 200) n;
INSERT INTO com_haulier SELECT n, 'Haulier ' || n FROM generate_series(1, 200) n;
INSERT INTO com_delivery SELECT n, 1 + (n * 3) % 200, 1 + (n * 11) % 200, 1 + n % 500, date '2024-02-01' + n % 200 FROM generate_series(1, 800) n;
INSERT INTO com_remark SELECT n, (ARRAY['farm', 'run', 'bin'])[1 + n % 3], 1 + n % 40, 'Remark ' || n FROM generate_series(1, 120) n;
ANALYZE;
