-- Texts as keys: codes, names of currencies, uuids; no numbers at all.
CREATE TABLE country (iso char(2) PRIMARY KEY, name text UNIQUE);
CREATE TABLE currency (code char(3) PRIMARY KEY, name text);
CREATE TABLE supplier (supplier_uuid uuid PRIMARY KEY, name text, country_iso char(2) REFERENCES country, currency_code char(3) REFERENCES currency);
CREATE TABLE product_group (group_code text PRIMARY KEY, title text, parent_group_code text REFERENCES product_group);
CREATE TABLE product (sku text PRIMARY KEY, title text, group_code text REFERENCES product_group, supplier_uuid uuid REFERENCES supplier, origin char(2) REFERENCES country);
CREATE TABLE price (product_sku text REFERENCES product, currency_code char(3) REFERENCES currency, amount numeric(9,2), PRIMARY KEY (product_sku, currency_code));
CREATE TABLE stock_move (move_uuid uuid PRIMARY KEY, sku text REFERENCES product, moved_on date, quantity int);
INSERT INTO country SELECT chr(65 + n / 5) || chr(65 + n), 'Land ' || n FROM generate_series(1, 25) n;
INSERT INTO currency SELECT 'C' || chr(65 + n) || chr(65 + n), 'Coin ' || n FROM generate_series(1, 9) n;
INSERT INTO supplier SELECT md5(n::text)::uuid, 'Supplier ' || n, (SELECT iso FROM country ORDER BY iso OFFSET n % 25 LIMIT 1), (SELECT code FROM currency ORDER BY code OFFSET n % 9 LIMIT 1) FROM generate_series(1, 50) n;
INSERT INTO product_group SELECT 'G' || lpad(n::text, 3, '0'), 'Group ' || n, CASE WHEN n > 6 THEN 'G' || lpad((n % 6 + 1)::text, 3, '0') END FROM generate_series(1, 40) n;
INSERT INTO product SELECT 'SKU-' || 10000 + n, 'Product ' || n, 'G' || lpad((n % 40 + 1)::text, 3, '0'), md5((n % 50 + 1)::text)::uuid, (SELECT iso FROM country ORDER BY iso OFFSET n % 25 LIMIT 1) FROM generate_series(1, 400) n;
INSERT INTO price SELECT 'SKU-' || 10000 + n, (SELECT code FROM currency ORDER BY code OFFSET n % 9 LIMIT 1), n % 90 FROM generate_series(1, 400) n;
INSERT INTO stock_move SELECT md5('m' || n)::uuid, 'SKU-' || 10001 + n % 400, date '2023-01-01' + n % 300, n % 20 FROM generate_series(1, 800) n;
