-- One column of a role everywhere; tables of sides; types beside what they are the types of.
CREATE TABLE agent (id bigint PRIMARY KEY, full_name varchar(80), email varchar(80));
CREATE TABLE kind (id bigint PRIMARY KEY, name varchar(40));
CREATE TABLE specimen (id bigint PRIMARY KEY, label varchar(40), kind_id bigint REFERENCES kind, curator_id bigint REFERENCES agent, type_id bigint);
CREATE TABLE specimen_type (id bigint PRIMARY KEY, name varchar(40));
ALTER TABLE specimen ADD FOREIGN KEY (type_id) REFERENCES specimen_type;
CREATE TABLE specimen_relationship (id bigint PRIMARY KEY, subject_id bigint REFERENCES specimen, object_id bigint REFERENCES specimen, type_id bigint);
CREATE TABLE specimen_relationship_type (id bigint PRIMARY KEY, name varchar(40));
ALTER TABLE specimen_relationship ADD FOREIGN KEY (type_id) REFERENCES specimen_relationship_type;
CREATE TABLE loan (id bigint PRIMARY KEY, agent_id bigint REFERENCES agent, specimen_id bigint REFERENCES specimen, due date);
CREATE TABLE loan_status (id bigint PRIMARY KEY, name varchar(40));
ALTER TABLE loan ADD COLUMN status_id bigint REFERENCES loan_status;
CREATE TABLE gathering (id bigint PRIMARY KEY, agent_id bigint REFERENCES agent, place varchar(60));
CREATE TABLE gathering_exclude (gathering_id bigint REFERENCES gathering, exclude_id bigint REFERENCES gathering, PRIMARY KEY (gathering_id, exclude_id));
CREATE TABLE note (id bigint PRIMARY KEY, agent_id bigint REFERENCES agent, text varchar(400), kind_id bigint REFERENCES kind);
CREATE TABLE note_link (source_id bigint REFERENCES note, target_id bigint REFERENCES note, PRIMARY KEY (source_id, target_id));
