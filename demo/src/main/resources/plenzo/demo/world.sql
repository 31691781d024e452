-- One database of the sample world. Everybody in it is made up.
CREATE SCHEMA fares;
CREATE SCHEMA sailings;
CREATE TABLE fares.fare_band (
  code text PRIMARY KEY,
  name text NOT NULL,
  base_price numeric(8,2) NOT NULL,
  valid_from date NOT NULL
);
COMMENT ON TABLE fares.fare_band IS 'What a crossing costs before concessions and surcharges';
CREATE TABLE fares.concession (
  code text PRIMARY KEY,
  name text NOT NULL,
  percent integer NOT NULL CONSTRAINT concession_percent_check CHECK (percent BETWEEN 0 AND 100)
);
CREATE TABLE fares.surcharge (
  code text PRIMARY KEY,
  name text NOT NULL,
  amount numeric(6,2) NOT NULL,
  season text
);
CREATE TABLE fares.booking (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  passenger text NOT NULL,
  band_code text NOT NULL REFERENCES fares.fare_band (code),
  concession_code text REFERENCES fares.concession (code),
  price numeric(8,2) NOT NULL,
  booked_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX booking_band ON fares.booking (band_code);
CREATE TABLE sailings.vessel (code text PRIMARY KEY, name text NOT NULL, capacity integer NOT NULL);
CREATE TABLE sailings.berth (code text PRIMARY KEY, harbour text NOT NULL);
CREATE TABLE sailings.timetable (
  vessel_code text NOT NULL REFERENCES sailings.vessel (code),
  departs time NOT NULL,
  berth_code text NOT NULL REFERENCES sailings.berth (code),
  days text NOT NULL,
  line integer NOT NULL,
  PRIMARY KEY (line)
);
INSERT INTO fares.fare_band VALUES
  ('FOOT', 'Foot passenger', 12.00, '2026-01-01'), ('CAR', 'Car with driver', 48.00, '2026-01-01'), ('VAN', 'Van with driver', 64.00, '2026-01-01'),
  ('COACH', 'Coach', 140.00, '2026-01-01'), ('MOTO', 'Motorcycle', 26.00, '2026-01-01'), ('TRAILER', 'Trailer', 31.00, '2026-03-01');
INSERT INTO fares.concession VALUES
  ('SENIOR', 'Senior, 67 and over', 30), ('STUDENT', 'Student', 20), ('CREW', 'Crew and family', 75), ('SCHOOL', 'School group', 40);
INSERT INTO fares.surcharge VALUES
  ('PEAK', 'Peak crossing', 4.50, 'summer'), ('NIGHT', 'Night crossing', 6.00, NULL), ('FUEL', 'Fuel', 1.20, NULL), ('STORM', 'Storm route', 0.00, 'winter');
INSERT INTO fares.booking (passenger, band_code, concession_code, price)
  SELECT 'Passenger ' || n, (ARRAY['FOOT','CAR','VAN','MOTO'])[1 + n % 4], (ARRAY['SENIOR','STUDENT',NULL])[1 + n % 3], 10 + n % 50 FROM generate_series(1, 400) n;
INSERT INTO sailings.vessel VALUES ('GANNET', 'MV Gannet', 320), ('TERN', 'MV Tern', 180), ('PETREL', 'MV Petrel', 96);
INSERT INTO sailings.berth VALUES ('N1', 'North terminal'), ('N2', 'North terminal'), ('S1', 'South terminal');
INSERT INTO sailings.timetable VALUES ('GANNET', '06:30', 'N1', 'daily', 1), ('GANNET', '12:00', 'S1', 'daily', 2), ('TERN', '08:15', 'N2', 'weekdays', 3), ('PETREL', '19:40', 'S1', 'Fri Sun', 4);
