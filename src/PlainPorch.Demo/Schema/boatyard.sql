-- The tidy neighbour, made a few years ago by somebody who knew how.
CREATE SCHEMA boatyard;

CREATE TYPE boatyard.job_status AS ENUM ('asked for', 'agreed', 'under way', 'waiting for parts', 'done', 'called off');

CREATE TABLE boatyard.customer (
    id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    name text NOT NULL,
    email text UNIQUE,
    phone text,
    notes text,
    created_at timestamptz NOT NULL DEFAULT now(),
    updated_at timestamptz NOT NULL DEFAULT now(),
    deleted_at timestamptz
);

CREATE TABLE boatyard.staff (
    id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    name text NOT NULL,
    initials varchar(3) NOT NULL UNIQUE,
    hired_on date NOT NULL,
    hourly_rate numeric(6,2) NOT NULL CHECK (hourly_rate > 0)
);

CREATE TABLE boatyard.part (
    id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    part_number varchar(12) NOT NULL UNIQUE,
    name text NOT NULL,
    price numeric(8,2) NOT NULL CHECK (price >= 0),
    in_stock integer NOT NULL DEFAULT 0 CHECK (in_stock >= 0)
);

CREATE TABLE boatyard.job (
    id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    customer_id integer NOT NULL REFERENCES boatyard.customer,
    title text NOT NULL,
    status boatyard.job_status NOT NULL DEFAULT 'asked for',
    opened_on date NOT NULL DEFAULT current_date,
    time_allowed interval,
    hours numeric(6,2) NOT NULL DEFAULT 0 CHECK (hours >= 0),
    rate numeric(6,2) NOT NULL DEFAULT 48 CHECK (rate > 0),
    labour numeric(12,4) GENERATED ALWAYS AS (hours * rate) STORED,
    tags text[],
    details jsonb,
    is_urgent boolean NOT NULL DEFAULT false,
    created_at timestamptz NOT NULL DEFAULT now(),
    updated_at timestamptz NOT NULL DEFAULT now(),
    deleted_at timestamptz
);

CREATE TABLE boatyard.job_line (
    id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id integer NOT NULL REFERENCES boatyard.job,
    line_number smallint NOT NULL,
    part_id integer NOT NULL REFERENCES boatyard.part,
    quantity numeric(8,2) NOT NULL CHECK (quantity > 0),
    unit_price numeric(8,2) NOT NULL CHECK (unit_price >= 0),
    UNIQUE (job_id, line_number)
);

CREATE TABLE boatyard.job_staff (
    job_id integer NOT NULL REFERENCES boatyard.job ON DELETE CASCADE,
    staff_id integer NOT NULL REFERENCES boatyard.staff,
    hours numeric(6,2) NOT NULL DEFAULT 0,
    PRIMARY KEY (job_id, staff_id)
);

CREATE TABLE boatyard.tool (
    id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    name text NOT NULL,
    serial uuid UNIQUE,
    held_by integer REFERENCES boatyard.staff ON DELETE SET NULL,
    bought_on date,
    price numeric(8,2)
);

CREATE INDEX job_open_idx ON boatyard.job (opened_on) WHERE deleted_at IS NULL;
CREATE INDEX job_customer_idx ON boatyard.job (customer_id);
CREATE INDEX job_line_part_idx ON boatyard.job_line (part_id);

COMMENT ON COLUMN boatyard.job.time_allowed IS 'How long the customer lets us take';
COMMENT ON TABLE boatyard.job_staff IS 'Who works on which job';
