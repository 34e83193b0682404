-- Names without separators, singular tables, keys called after their table.
CREATE TABLE patient (patientid int PRIMARY KEY, surname text, firstname text, dob date);
CREATE TABLE doctor (doctorid int PRIMARY KEY, surname text, deptid int);
CREATE TABLE dept (deptid int PRIMARY KEY, deptname text, headid int REFERENCES doctor);
ALTER TABLE doctor ADD FOREIGN KEY (deptid) REFERENCES dept;
CREATE TABLE ward (wardid int PRIMARY KEY, wardname text, deptid int REFERENCES dept, beds int);
CREATE TABLE admission (admissionid int PRIMARY KEY, patientid int REFERENCES patient, wardid int REFERENCES ward, admittingdoctorid int REFERENCES doctor, admitted date, discharged date);
CREATE TABLE drug (drugid int PRIMARY KEY, drugname text, unit text);
CREATE TABLE prescription (prescriptionid int PRIMARY KEY, admissionid int REFERENCES admission, drugid int REFERENCES drug, doctorid int REFERENCES doctor, dose numeric(6,2), days int);
CREATE TABLE allergy (patientid int REFERENCES patient, drugid int REFERENCES drug, severity int, PRIMARY KEY (patientid, drugid));
INSERT INTO dept SELECT n, 'Dept ' || n FROM generate_series(1, 9) n;
INSERT INTO doctor SELECT n, 'Doctor ' || n, n % 9 + 1 FROM generate_series(1, 60) n;
UPDATE dept SET headid = deptid * 5;
INSERT INTO ward SELECT n, 'Ward ' || n, n % 9 + 1, n % 30 FROM generate_series(1, 25) n;
INSERT INTO patient SELECT n, 'Patient ' || n, 'First ' || n FROM generate_series(1, 500) n;
INSERT INTO admission SELECT n, n % 500 + 1, n % 25 + 1, n % 60 + 1, date '2021-01-01' + n FROM generate_series(1, 800) n;
INSERT INTO drug SELECT n, 'Drug ' || n, 'mg' FROM generate_series(1, 90) n;
INSERT INTO prescription SELECT n, n % 800 + 1, n % 90 + 1, n % 60 + 1, n % 50, n % 14 FROM generate_series(1, 1500) n;
INSERT INTO allergy SELECT n, n % 90 + 1, n % 3 FROM generate_series(1, 120) n;
