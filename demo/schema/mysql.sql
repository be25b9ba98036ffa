-- The Tarn & Weir Navigation, as it stands in MySQL.

CREATE TABLE `waterways` (
    `id` INT NOT NULL PRIMARY KEY,
    `parent_id` INT REFERENCES `waterways` (`id`),
    `name` VARCHAR(40) NOT NULL,
    `length_km` DECIMAL(6,1)
);

CREATE TABLE `landings` (
    `id` INT NOT NULL PRIMARY KEY,
    `waterway_id` INT NOT NULL REFERENCES `waterways` (`id`),
    `name` VARCHAR(40) NOT NULL,
    `mile` DECIMAL(6,1) NOT NULL,
    `depth` DECIMAL(4,1),
    `opened` DATE NOT NULL
);

CREATE TABLE `vessels` (
    `id` INT NOT NULL PRIMARY KEY,
    `name` VARCHAR(40) NOT NULL,
    `kind` VARCHAR(10) NOT NULL,
    `home_landing_id` INT REFERENCES `landings` (`id`),
    `tons_max` DECIMAL(8,2),
    `permit` VARCHAR(20),
    `tags` VARCHAR(60)
);

CREATE TABLE `crossings` (
    `id` INT NOT NULL PRIMARY KEY,
    `vessel_id` INT NOT NULL REFERENCES `vessels` (`id`),
    `from_landing_id` INT NOT NULL REFERENCES `landings` (`id`),
    `to_landing_id` INT NOT NULL REFERENCES `landings` (`id`),
    `day` DATE NOT NULL,
    `passengers` INT,
    `fare` DECIMAL(6,2)
);

CREATE TABLE `loads` (
    `id` INT NOT NULL PRIMARY KEY,
    `crossing_id` INT NOT NULL REFERENCES `crossings` (`id`),
    `name` VARCHAR(40) NOT NULL,
    `tons` DECIMAL(8,2),
    `owner` VARCHAR(40)
);

CREATE TABLE `tolls` (
    `id` INT NOT NULL PRIMARY KEY,
    `landing_id` INT NOT NULL REFERENCES `landings` (`id`),
    `vessel_id` INT NOT NULL REFERENCES `vessels` (`id`),
    `paid_on` DATE NOT NULL,
    `amount` DECIMAL(6,2) NOT NULL,
    `settled` CHAR(1) NOT NULL
);

CREATE TABLE `remarks` (
    `id` INT NOT NULL PRIMARY KEY,
    `crossing_id` INT NOT NULL REFERENCES `crossings` (`id`),
    `warden` VARCHAR(40) NOT NULL,
    `remark` VARCHAR(200),
    `noted` DATETIME NOT NULL
);
