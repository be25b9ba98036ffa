-- The tables that every statement of the calibration runs over, in words both engines read.
CREATE TABLE waterways (id INTEGER PRIMARY KEY, name VARCHAR(20) NOT NULL, parent_id INTEGER, length_km NUMERIC(6,1), tidal INTEGER NOT NULL);
CREATE TABLE landings (id INTEGER PRIMARY KEY, name VARCHAR(20), waterway_id INTEGER, km NUMERIC(5,1), berths INTEGER);
CREATE TABLE vessels (id INTEGER PRIMARY KEY, name VARCHAR(20), kind VARCHAR(10), tons INTEGER, tags VARCHAR(40), permit VARCHAR(12));
CREATE TABLE crossings (id INTEGER PRIMARY KEY, vessel_id INTEGER NOT NULL, landing_id INTEGER, day DATE NOT NULL, fare NUMERIC(8,2), passengers INTEGER);
CREATE TABLE remarks (id INTEGER PRIMARY KEY, warden VARCHAR(10), landing_id INTEGER, note VARCHAR(40));
INSERT INTO waterways VALUES (1, 'Tarn', NULL, 120.5, 1), (2, 'Weir', 1, 44.0, 0), (3, 'Beck', 1, 18.2, 0), (4, 'Rill', 2, NULL, 0), (5, 'Burn', 2, 9.5, 0), (6, 'Mere', NULL, 3.0, 1), (7, 'Syke', 4, 1.5, 0);
INSERT INTO landings VALUES (1, 'Quayside', 1, 0.5, 4), (2, 'Mill', 2, 12.0, 2), (3, 'lock', 2, 30.5, NULL), (4, 'Basin', 1, 77.0, 4), (5, NULL, 5, 2.5, 1), (6, '', 3, NULL, 0), (7, 'Staithe ', NULL, 8.0, 2);
INSERT INTO vessels VALUES (1, 'Heron', 'ferry', 40, 'coal,salt', 'TW-001'), (2, 'heron', 'barge', 120, 'salt', 'TW-002'), (3, 'Tern', 'ferry', 25, NULL, NULL), (4, 'Coot', 'barge', 120, '', 'tw-004'), (5, 'Swan', NULL, NULL, 'coal,,wool', 'X_9%'), (6, 'Grebe', 'tug', 15, 'wool,coal,tin', 'TW-0 6');
INSERT INTO crossings VALUES (1, 1, 1, '2024-02-28', 4.50, 12), (2, 1, 2, '2024-02-29', 4.50, NULL), (3, 1, 4, '2024-03-01', 6.00, 30), (4, 2, 1, '2024-03-01', NULL, 0), (5, 2, NULL, '2024-12-31', 10.25, 3), (6, 3, 3, '2023-03-31', 0.00, 7), (7, 3, 3, '2023-03-31', 2.75, 7), (8, 4, 5, '2024-01-31', 7.125, 19), (9, 5, 1, '2024-03-10', -1.50, 1), (10, 1, 1, '2024-03-01', 6.00, 30);
INSERT INTO remarks VALUES (1, 'Ada', 1, 'slippery steps'), (2, 'Bo', 1, NULL), (3, 'Ada', 3, 'gate stuck, again'), (4, NULL, 9, 'nobody there'), (5, 'Cy', 2, '50% full'), (6, 'Bo', NULL, '  padded  '), (7, 'Ada', 4, '');
