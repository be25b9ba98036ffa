-- The Tarn & Weir Navigation, as it stands in Oracle.

CREATE TABLE waterways (
    id NUMBER(9) NOT NULL PRIMARY KEY,
    parent_id NUMBER(9) REFERENCES waterways (id),
    name VARCHAR2(40) NOT NULL,
    length_km NUMBER(6,1)
);

CREATE TABLE landings (
    id NUMBER(9) NOT NULL PRIMARY KEY,
    waterway_id NUMBER(9) NOT NULL REFERENCES waterways (id),
    name VARCHAR2(40) NOT NULL,
    mile NUMBER(6,1) NOT NULL,
    depth NUMBER(4,1),
    opened DATE NOT NULL
);

CREATE TABLE vessels (
    id NUMBER(9) NOT NULL PRIMARY KEY,
    name VARCHAR2(40) NOT NULL,
    kind VARCHAR2(10) NOT NULL,
    home_landing_id NUMBER(9) REFERENCES landings (id),
    tons_max NUMBER(8,2),
    permit VARCHAR2(20),
    tags VARCHAR2(60)
);

CREATE TABLE crossings (
    id NUMBER(9) NOT NULL PRIMARY KEY,
    vessel_id NUMBER(9) NOT NULL REFERENCES vessels (id),
    from_landing_id NUMBER(9) NOT NULL REFERENCES landings (id),
    to_landing_id NUMBER(9) NOT NULL REFERENCES landings (id),
    day DATE NOT NULL,
    passengers NUMBER(9),
    fare NUMBER(6,2)
);

CREATE TABLE loads (
    id NUMBER(9) NOT NULL PRIMARY KEY,
    crossing_id NUMBER(9) NOT NULL REFERENCES crossings (id),
    name VARCHAR2(40) NOT NULL,
    tons NUMBER(8,2),
    owner VARCHAR2(40)
);

CREATE TABLE tolls (
    id NUMBER(9) NOT NULL PRIMARY KEY,
    landing_id NUMBER(9) NOT NULL REFERENCES landings (id),
    vessel_id NUMBER(9) NOT NULL REFERENCES vessels (id),
    paid_on DATE NOT NULL,
    amount NUMBER(6,2) NOT NULL,
    settled CHAR(1) NOT NULL
);

CREATE TABLE remarks (
    id NUMBER(9) NOT NULL PRIMARY KEY,
    crossing_id NUMBER(9) NOT NULL REFERENCES crossings (id),
    warden VARCHAR2(40) NOT NULL,
    remark VARCHAR2(200),
    noted TIMESTAMP NOT NULL
);
