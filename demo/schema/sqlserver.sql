-- The Tarn & Weir Navigation, as it stands in SQL Server.

CREATE TABLE dbo.[waterways] (
    [id] int NOT NULL PRIMARY KEY,
    [parent_id] int REFERENCES [waterways] ([id]),
    [name] nvarchar(40) NOT NULL,
    [length_km] decimal(6,1)
);

CREATE TABLE dbo.[landings] (
    [id] int NOT NULL PRIMARY KEY,
    [waterway_id] int NOT NULL REFERENCES [waterways] ([id]),
    [name] nvarchar(40) NOT NULL,
    [mile] decimal(6,1) NOT NULL,
    [depth] decimal(4,1),
    [opened] date NOT NULL
);

CREATE TABLE dbo.[vessels] (
    [id] int NOT NULL PRIMARY KEY,
    [name] nvarchar(40) NOT NULL,
    [kind] nvarchar(10) NOT NULL,
    [home_landing_id] int REFERENCES [landings] ([id]),
    [tons_max] decimal(8,2),
    [permit] nvarchar(20),
    [tags] nvarchar(60)
);

CREATE TABLE dbo.[crossings] (
    [id] int NOT NULL PRIMARY KEY,
    [vessel_id] int NOT NULL REFERENCES [vessels] ([id]),
    [from_landing_id] int NOT NULL REFERENCES [landings] ([id]),
    [to_landing_id] int NOT NULL REFERENCES [landings] ([id]),
    [day] date NOT NULL,
    [passengers] int,
    [fare] decimal(6,2)
);

CREATE TABLE dbo.[loads] (
    [id] int NOT NULL PRIMARY KEY,
    [crossing_id] int NOT NULL REFERENCES [crossings] ([id]),
    [name] nvarchar(40) NOT NULL,
    [tons] decimal(8,2),
    [owner] nvarchar(40)
);

CREATE TABLE dbo.[tolls] (
    [id] int NOT NULL PRIMARY KEY,
    [landing_id] int NOT NULL REFERENCES [landings] ([id]),
    [vessel_id] int NOT NULL REFERENCES [vessels] ([id]),
    [paid_on] date NOT NULL,
    [amount] decimal(6,2) NOT NULL,
    [settled] char(1) NOT NULL
);

CREATE TABLE dbo.[remarks] (
    [id] int NOT NULL PRIMARY KEY,
    [crossing_id] int NOT NULL REFERENCES [crossings] ([id]),
    [warden] nvarchar(40) NOT NULL,
    [remark] nvarchar(200),
    [noted] datetime2 NOT NULL
);
