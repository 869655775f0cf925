import type { Migration } from '../migration.ts';

/**
 * Every table of the first version. Instants are DATETIME and flags TINYINT(1): Sequelize reads the declared
 * type back. Migrations are never changed once they have run anywhere; new ones follow.
 */
export const firstTables: Migration = {
  name: '001-first-tables',
  statements: [
    `CREATE TABLE people (id TEXT PRIMARY KEY, displayName TEXT NOT NULL, firstName TEXT NOT NULL, surname TEXT NOT NULL, candidateNumber TEXT, role TEXT NOT NULL CHECK (role IN ('student', 'teacher', 'family', 'guest')))`,
    `CREATE TABLE courses (id TEXT PRIMARY KEY, title TEXT NOT NULL, subject TEXT NOT NULL)`,
    `CREATE TABLE enrolments (personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, courseId TEXT NOT NULL REFERENCES courses ON DELETE CASCADE, role TEXT NOT NULL CHECK (role IN ('student', 'teacher', 'family')), PRIMARY KEY (personId, courseId, role))`,
    `CREATE TABLE sessions (tokenHash TEXT PRIMARY KEY, personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, expiresAt DATETIME NOT NULL)`,
    `CREATE TABLE assignments (id TEXT PRIMARY KEY, kind TEXT NOT NULL CHECK (kind IN ('course', 'own', 'quick')), courseId TEXT REFERENCES courses, ownerId TEXT REFERENCES people ON DELETE CASCADE, title TEXT NOT NULL, instructions TEXT NOT NULL,
      limits TEXT NOT NULL, slots TEXT NOT NULL, materials TEXT NOT NULL, rubric TEXT NOT NULL, points REAL, attemptsAllowed INTEGER, isLateAllowed TINYINT(1) NOT NULL, setAt DATETIME NOT NULL, dueAt DATETIME, coverSha256 TEXT,
      CHECK ((courseId IS NULL) <> (ownerId IS NULL)))`,
    `CREATE TABLE takes (id TEXT PRIMARY KEY, personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, assignmentId TEXT NOT NULL REFERENCES assignments ON DELETE CASCADE, name TEXT NOT NULL, sha256 TEXT NOT NULL, sizeBytes INTEGER NOT NULL,
      state TEXT NOT NULL CHECK (state IN ('inspecting', 'ready', 'refused')), kind TEXT, isChosen TINYINT(1) NOT NULL, isShaped TINYINT(1) NOT NULL, facts TEXT, analysis TEXT, proposal TEXT, fault TEXT, proxySha256 TEXT, stripSha256 TEXT, posterSha256 TEXT, createdAt DATETIME NOT NULL)`,
    `CREATE INDEX takes_of_work ON takes (personId, assignmentId)`,
    `CREATE TABLE recipes (takeId TEXT NOT NULL REFERENCES takes ON DELETE CASCADE, version INTEGER NOT NULL, recipe TEXT NOT NULL, createdAt DATETIME NOT NULL, PRIMARY KEY (takeId, version))`,
    `CREATE TABLE made_files (id TEXT PRIMARY KEY, takeId TEXT NOT NULL REFERENCES takes ON DELETE CASCADE, personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, assignmentId TEXT NOT NULL REFERENCES assignments ON DELETE CASCADE, fileName TEXT NOT NULL, sha256 TEXT NOT NULL,
      sizeBytes INTEGER NOT NULL, facts TEXT NOT NULL, findings TEXT NOT NULL, plan TEXT NOT NULL, inputHash TEXT NOT NULL, posterSha256 TEXT, createdAt DATETIME NOT NULL, UNIQUE (takeId, inputHash))`,
    `CREATE INDEX made_files_of_work ON made_files (personId, assignmentId)`,
    `CREATE TABLE parcels (personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, assignmentId TEXT NOT NULL REFERENCES assignments ON DELETE CASCADE, parcel TEXT NOT NULL, PRIMARY KEY (personId, assignmentId))`,
    `CREATE TABLE hand_ins (id TEXT PRIMARY KEY, personId TEXT NOT NULL REFERENCES people, assignmentId TEXT NOT NULL REFERENCES assignments, attempt INTEGER NOT NULL, state TEXT NOT NULL CHECK (state IN ('sending', 'received', 'failed')), frozen TEXT NOT NULL,
      deliveryKey TEXT NOT NULL UNIQUE, fault TEXT, createdAt DATETIME NOT NULL, receivedAt DATETIME, receiptId TEXT)`,
    `CREATE INDEX hand_ins_of_work ON hand_ins (personId, assignmentId)`,
    `CREATE TRIGGER hand_ins_stay BEFORE DELETE ON hand_ins BEGIN SELECT RAISE(ABORT, 'hand-ins are kept'); END`,
    `CREATE TRIGGER hand_ins_frozen BEFORE UPDATE OF frozen, personId, assignmentId, deliveryKey ON hand_ins WHEN NEW.frozen <> OLD.frozen OR NEW.personId <> OLD.personId OR NEW.assignmentId <> OLD.assignmentId OR NEW.deliveryKey <> OLD.deliveryKey
      BEGIN SELECT RAISE(ABORT, 'a hand-in is frozen'); END`,
    `CREATE TABLE receipts (id TEXT PRIMARY KEY, handInId TEXT NOT NULL UNIQUE REFERENCES hand_ins, personId TEXT NOT NULL REFERENCES people, assignmentId TEXT NOT NULL REFERENCES assignments, receipt TEXT NOT NULL)`,
    `CREATE TABLE feedback (handInId TEXT PRIMARY KEY REFERENCES hand_ins, text TEXT NOT NULL, points REAL, createdAt DATETIME NOT NULL)`,
    `CREATE TABLE jobs (id TEXT PRIMARY KEY, kind TEXT NOT NULL CHECK (kind IN ('inspect', 'make', 'deliver')), personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, takeId TEXT REFERENCES takes ON DELETE CASCADE, assignmentId TEXT REFERENCES assignments ON DELETE CASCADE,
      state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'failed', 'cancelled')), stage TEXT NOT NULL, share REAL NOT NULL, secondsLeft REAL, attempts INTEGER NOT NULL, leaseUntil DATETIME, isCancelRequested TINYINT(1) NOT NULL, input TEXT NOT NULL, inputHash TEXT NOT NULL, fault TEXT, createdAt DATETIME NOT NULL)`,
    `CREATE INDEX jobs_by_state ON jobs (state, createdAt)`,
    `CREATE TABLE comments (id TEXT PRIMARY KEY, handInId TEXT NOT NULL REFERENCES hand_ins, personId TEXT NOT NULL REFERENCES people, text TEXT NOT NULL, createdAt DATETIME NOT NULL)`,
    `CREATE TABLE portfolio_pieces (id TEXT PRIMARY KEY, personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, madeId TEXT NOT NULL REFERENCES made_files, title TEXT NOT NULL, createdAt DATETIME NOT NULL)`,
    `CREATE TABLE exhibition_pieces (id TEXT PRIMARY KEY, portfolioPieceId TEXT NOT NULL REFERENCES portfolio_pieces ON DELETE CASCADE, createdAt DATETIME NOT NULL)`,
    `CREATE TABLE audit_events (id TEXT PRIMARY KEY, personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, assignmentId TEXT REFERENCES assignments ON DELETE CASCADE, what TEXT NOT NULL, createdAt DATETIME NOT NULL)`,
    `CREATE INDEX audit_events_of_work ON audit_events (personId, assignmentId, createdAt)`,
  ],
};
