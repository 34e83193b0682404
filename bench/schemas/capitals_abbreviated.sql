-- Capitals, abbreviations, prefixes of modules, whole-number keys that the program keeps.
CREATE TABLE "SAL_CUST" ("CUST_NO" int PRIMARY KEY, "CUST_NM" text, "REP_NO" int, "PAY_CD" varchar(4));
CREATE TABLE "SAL_REP" ("REP_NO" int PRIMARY KEY, "REP_NM" text, "MGR_NO" int REFERENCES "SAL_REP");
ALTER TABLE "SAL_CUST" ADD FOREIGN KEY ("REP_NO") REFERENCES "SAL_REP";
CREATE TABLE "SAL_PAYTERM" ("PAY_CD" varchar(4) PRIMARY KEY, "DESCR" text, "DAYS" int);
ALTER TABLE "SAL_CUST" ADD FOREIGN KEY ("PAY_CD") REFERENCES "SAL_PAYTERM";
CREATE TABLE "SAL_ORD" ("ORD_NO" int PRIMARY KEY, "CUST_NO" int REFERENCES "SAL_CUST", "ORD_DT" date, "SHIP_CUST_NO" int REFERENCES "SAL_CUST");
CREATE TABLE "STK_ITEM" ("ITEM_CD" varchar(8) PRIMARY KEY, "DESCR" text, "WHS_CD" varchar(3));
CREATE TABLE "STK_WHS" ("WHS_CD" varchar(3) PRIMARY KEY, "WHS_NM" text);
ALTER TABLE "STK_ITEM" ADD FOREIGN KEY ("WHS_CD") REFERENCES "STK_WHS";
CREATE TABLE "SAL_ORDLIN" ("ORD_NO" int REFERENCES "SAL_ORD", "LIN_NO" int, "ITEM_CD" varchar(8) REFERENCES "STK_ITEM", "QTY" int, "AMT" numeric(9,2), PRIMARY KEY ("ORD_NO", "LIN_NO"));
INSERT INTO "SAL_REP" SELECT n, 'Rep ' || n, CASE WHEN n > 4 THEN n % 4 + 1 END FROM generate_series(1, 25) n;
INSERT INTO "SAL_PAYTERM" VALUES ('NET', 'Net', 30), ('CASH', 'Cash', 0), ('N60', 'Net 60', 60);
INSERT INTO "SAL_CUST" SELECT n, 'Customer ' || n, n % 25 + 1, (ARRAY['NET', 'CASH', 'N60'])[n % 3 + 1] FROM generate_series(1, 400) n;
INSERT INTO "SAL_ORD" SELECT n, n % 400 + 1, date '2022-01-01' + n, CASE WHEN n % 5 = 0 THEN n * 3 % 400 + 1 END FROM generate_series(1, 900) n;
INSERT INTO "STK_WHS" VALUES ('EST', 'East'), ('WST', 'West'), ('NTH', 'North');
INSERT INTO "STK_ITEM" SELECT 'IT' || lpad(n::text, 5, '0'), 'Item ' || n, (ARRAY['EST', 'WST', 'NTH'])[n % 3 + 1] FROM generate_series(1, 200) n;
INSERT INTO "SAL_ORDLIN" SELECT n / 2 + 1, n % 2, 'IT' || lpad((n % 200 + 1)::text, 5, '0'), n % 9, n % 70 FROM generate_series(0, 1500) n;
