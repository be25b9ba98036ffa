-- The Tarn & Weir Navigation, as it stands in PostgreSQL.

CREATE TABLE waterways (
    id integer NOT NULL PRIMARY KEY,
    parent_id integer REFERENCES waterways (id),
    name varchar(40) NOT NULL,
    length_km numeric(6,1)
);

CREATE TABLE landings (
    id integer NOT NULL PRIMARY KEY,
    waterway_id integer NOT NULL REFERENCES waterways (id),
    name varchar(40) NOT NULL,
    mile numeric(6,1) NOT NULL,
    depth numeric(4,1),
    opened date NOT NULL
);

CREATE TABLE vessels (
    id integer NOT NULL PRIMARY KEY,
    name varchar(40) NOT NULL,
    kind varchar(10) NOT NULL,
    home_landing_id integer REFERENCES landings (id),
    tons_max numeric(8,2),
    permit varchar(20),
    tags varchar(60)
);

CREATE TABLE crossings (
    id integer NOT NULL PRIMARY KEY,
    vessel_id integer NOT NULL REFERENCES vessels (id),
    from_landing_id integer NOT NULL REFERENCES landings (id),
    to_landing_id integer NOT NULL REFERENCES landings (id),
    day date NOT NULL,
    passengers integer,
    fare numeric(6,2)
);

CREATE TABLE loads (
    id integer NOT NULL PRIMARY KEY,
    crossing_id integer NOT NULL REFERENCES crossings (id),
    name varchar(40) NOT NULL,
    tons numeric(8,2),
    owner varchar(40)
);

CREATE TABLE tolls (
    id integer NOT NULL PRIMARY KEY,
    landing_id integer NOT NULL REFERENCES landings (id),
    vessel_id integer NOT NULL REFERENCES vessels (id),
    paid_on date NOT NULL,
    amount numeric(6,2) NOT NULL,
    settled char(1) NOT NULL
);

CREATE TABLE remarks (
    id integer NOT NULL PRIMARY KEY,
    crossing_id integer NOT NULL REFERENCES crossings (id),
    warden varchar(40) NOT NULL,
    remark varchar(200),
    noted timestamp NOT NULL
);
