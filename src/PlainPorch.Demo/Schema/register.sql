-- Copied table by table out of a desktop program of 1996: no foreign keys at all.
CREATE SCHEMA register;

CREATE TABLE register."OWNERS" (
    "OWNR_NO" integer NOT NULL,
    "SURNAME" varchar(40),
    "FIRST_NM" varchar(30),
    "FIRM" varchar(60),
    "ADDR" varchar(60),
    "PCODE" varchar(10),
    "TOWN" varchar(40),
    "CTRY" char(2),
    "Tel No" varchar(24),
    "EMAIL" varchar(80),
    "NAT_ID" char(11),
    "IBAN" varchar(34),
    "AGENT_NO" integer,
    "REMARKS" text,
    "ENT_DT" date,
    "ENT_BY" char(3),
    "UPD_DT" timestamp,
    "DEL_FLG" char(1)
);

CREATE TABLE register."BOATS" (
    "BOAT_NO" integer NOT NULL PRIMARY KEY,
    "NAME" varchar(40) NOT NULL,
    "REG_MARK" varchar(12),
    "OWNR_NO" integer,
    "RIG_CD" varchar(4),
    "HULL_MAT" varchar(20),
    "YR_BLT" smallint,
    "LOA_M" numeric(5,2),
    "DRAFT_M" numeric(4,2),
    "PHOTO" bytea,
    "ENT_DT" date,
    "ENT_BY" char(3),
    "UPD_DT" timestamp,
    "DEL_FLG" char(1)
);

CREATE TABLE register."PONTOONS" (
    "PONT_CD" char(1) NOT NULL PRIMARY KEY,
    "DESCR" varchar(40),
    "SIDE_CD" varchar(4),
    "DEPTH_M" numeric(4,1),
    "SORT_NO" integer
);

CREATE TABLE register."BERTHS" (
    "BERTH_CD" varchar(6) NOT NULL PRIMARY KEY,
    "PONT_CD" char(1),
    "LEN_M" numeric(4,1),
    "POWER_YN" char(1),
    "WATER_YN" char(1),
    "DAY_RATE" numeric(8,2),
    "STAT_CD" varchar(4),
    "SORT_NO" integer
);

CREATE TABLE register."STAYS" (
    "STAY_NO" integer NOT NULL PRIMARY KEY,
    "BERTH_CD" varchar(6),
    "BOAT_NO" integer,
    "ARR_DT" varchar(8),
    "DEP_DT" varchar(8),
    "NIGHTS" smallint,
    "AMT" numeric(9,2),
    "PAID" smallint,
    "PAY_CD" varchar(4),
    "NOTE" varchar(120)
);

CREATE TABLE register."METERS" (
    "METER_NO" integer NOT NULL PRIMARY KEY,
    "BERTH_CD" varchar(6),
    "KIND_CD" varchar(4),
    "FITTED_ON" date
);

CREATE TABLE register."READINGS" (
    "READ_NO" integer NOT NULL PRIMARY KEY,
    "METER_NO" varchar(8),
    "TAKEN_ON" date,
    "VALUE" numeric(10,1),
    "READER" char(2),
    "STATE" char(1)
);

CREATE TABLE register."KIT" (
    "KIT_NO" integer NOT NULL PRIMARY KEY,
    "DESCR" varchar(60),
    "CAT_CD" varchar(4),
    "LIFE_YRS" smallint
);

CREATE TABLE register."BoatKit" (
    "BoatNo" integer NOT NULL,
    "KitNo" integer NOT NULL,
    "Qty" smallint,
    "Expires" date,
    PRIMARY KEY ("BoatNo", "KitNo")
);

CREATE TABLE register."CODES" (
    "CODE_TYPE" varchar(6) NOT NULL,
    "CODE" varchar(4) NOT NULL,
    "DESCR" varchar(60),
    PRIMARY KEY ("CODE_TYPE", "CODE")
);

CREATE TABLE register."SURVEYS" (
    "SURV_NO" integer NOT NULL PRIMARY KEY,
    "BOAT_NO" integer,
    "DONE_ON" date,
    "RESULT_CD" varchar(4),
    "NOTES" text,
    "ORDER" integer,
    "USER" varchar(20),
    "NEXT_DUE" date
);

CREATE TABLE register."WAITLIST" (
    "POS" integer,
    "SURNAME" varchar(40),
    "FIRST_NM" varchar(30),
    "LOA_M" numeric(5,2),
    "ASKED_ON" date,
    "NOTE" varchar(80)
);

CREATE TABLE register."NOTICES" (
    "NOTICE_NO" integer NOT NULL PRIMARY KEY,
    "TITLE" varchar(80),
    "BODY" text,
    "PIN_YN" char(1),
    "FROM_DT" date,
    "TO_DT" date
);

COMMENT ON TABLE register."STAYS" IS 'Who lay where, from when to when';
COMMENT ON COLUMN register."BOATS"."LOA_M" IS 'Length over all, metres';
COMMENT ON COLUMN register."OWNERS"."AGENT_NO" IS 'Another owner who acts for this one';
