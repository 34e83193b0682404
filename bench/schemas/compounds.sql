-- Compounds written in two ways, and words cut short.
CREATE TABLE enginetype (enginetypeid integer PRIMARY KEY, name text);
CREATE TABLE fuelsystems (fuelsystemid integer PRIMARY KEY, name text);
CREATE TABLE "EngineBlock" ("EngineBlockId" integer PRIMARY KEY, "Name" text, "EngineTypeId" integer REFERENCES enginetype);
CREATE TABLE defaultproperties (id integer PRIMARY KEY, name text);
CREATE TABLE vehicle (id integer PRIMARY KEY, plate text, engine_type_id integer REFERENCES enginetype, fuel_system_id integer REFERENCES fuelsystems, default_prop_id integer REFERENCES defaultproperties, engineblockid integer REFERENCES "EngineBlock");
CREATE TABLE service_stations (id integer PRIMARY KEY, name text);
CREATE TABLE servicevisit (id integer PRIMARY KEY, vehicleid integer REFERENCES vehicle, servicestationid integer REFERENCES service_stations, day date);
CREATE TABLE visit_positions (id integer PRIMARY KEY, service_visit_id integer REFERENCES servicevisit, spare_part_id integer, pieces integer);
CREATE TABLE spareparts (id integer PRIMARY KEY, name text);
ALTER TABLE visit_positions ADD FOREIGN KEY (spare_part_id) REFERENCES spareparts;
CREATE TABLE old_engine_types (id integer PRIMARY KEY, enginetype_id integer REFERENCES enginetype, until date);
