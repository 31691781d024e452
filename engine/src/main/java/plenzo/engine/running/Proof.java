package plenzo.engine.running;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.object.SchemaObject;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.Run;
import plenzo.core.table.TableOrder;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.Scratch;
import plenzo.core.target.TargetFailed;
import plenzo.core.words.Words;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.backup.BackupIncoming;
import plenzo.engine.setup.Targets;

/**
 * Restores a backup: rows in the scratch place, files in a folder beside the tree, definitions in a
 * place of their own where the host makes one, and compares all of it.
 */
public final class Proof {
  /**
   * @return what the backup is from now on: "proven", "proven but for 2 definitions, read back
   *     only", or "read back, not restored"
   * @throws IllegalStateException when what was restored is not what was backed up
   */
  public String prove(RunContext c, BackupFile file, Run.Backup backup) {
    boolean restored = false;
    List<String> readBack = new ArrayList<>();
    BackupIncoming kept = new BackupIncoming(file, backup);
    List<SchemaObject> objects = kept.objects();
    boolean rows = !backup.tables().isEmpty();
    if (rows && !c.place(Holder.DATABASE).target().scratch().isEmpty()) {
      file.readBackPieces(backup); // every row is read where it is restored
    } else {
      file.readBack(backup);
    }
    if (rows || !objects.isEmpty()) {
      Targets.At database = c.place(Holder.DATABASE);
      if (database.target().scratch().isEmpty()) {
        if (!backup.tables().isEmpty()) {
          readBack.add(Words.count(backup.rows(), "row"));
        }
        if (!objects.isEmpty()) {
          readBack.add(Words.count(objects.size(), "schema object"));
        }
      } else {
        database(c, database, file, backup, kept);
        restored = true;
      }
    }
    Map<ComponentKey, Digest> files = new LinkedHashMap<>();
    Map<ComponentKey, Digest> definitions = new LinkedHashMap<>();
    for (ComponentKey key : kept.components()) {
      Digest content = kept.item(key);
      if (content != null && !key.kind().schemaObject()) {
        (key.kind() == Kind.FILE ? files : definitions).put(key, content);
      }
    }
    if (!files.isEmpty()) {
      aside(c, c.place(Holder.DIRECTORY), files, kept);
      restored = true;
    }
    if (!definitions.isEmpty()) {
      Targets.At host = c.place(Holder.HOST);
      if (c.targets().spaces(host)) {
        aside(c, host, definitions, kept);
        restored = true;
      } else {
        readBack.add(Words.count(definitions.size(), "definition"));
      }
    }
    if (readBack.isEmpty()) {
      return "proven";
    }
    return restored
        ? "proven but for " + String.join(" and ", readBack) + ", read back only"
        : "read back, not restored";
  }

  private static void aside(
      RunContext c, Targets.At at, Map<ComponentKey, Digest> pieces, BackupIncoming kept) {
    long number = c.number();
    boolean host = at.holder() == Holder.HOST;
    String words = Words.count(pieces.size(), host ? "definition" : "file");
    String where = host ? " in a place of its own" : " beside the tree";
    c.book().intent(number, Deed.PROVE, 1, at.id(), null, "Restore " + words + where);
    try (ItemsChanging session = (ItemsChanging) c.targets().change(at)) {
      List<ComponentKey> wrong = session.restoreAside(number, pieces, kept.contents(), c::alive);
      if (!wrong.isEmpty()) {
        throw new IllegalStateException(
            "restored, "
                + wrong.get(0)
                + (wrong.size() == 1 ? "" : " and " + (wrong.size() - 1) + " more")
                + " differ from what was backed up");
      }
    }
    c.book().outcome(number, Deed.PROVE, 1, at.id(), Outcome.RESTORED, "restored");
    c.say("Restored and compared " + words + " of " + at.shown());
  }

  private static void database(
      RunContext c, Targets.At at, BackupFile file, Run.Backup backup, BackupIncoming kept) {
    long number = c.number();
    c.book()
        .intent(number, Deed.PROVE, 1, at.id(), null, "Restore the backup in the scratch place");
    List<BackupFile.Table> tables = file.tables(backup.digest());
    Map<TableName, TableStructure> structures = new LinkedHashMap<>();
    tables.stream()
        .filter(t -> t.structure() != null)
        .forEach(t -> structures.put(t.table(), t.structure()));
    List<Scratch.Source> sources = new ArrayList<>();
    kept.beside().forEach((name, structure) -> sources.add(Scratch.Source.beside(name, structure)));
    for (TableName name : TableOrder.parentsFirst(structures, List.of())) {
      BackupFile.Table t =
          tables.stream().filter(x -> x.table().equals(name)).findFirst().orElseThrow();
      sources.add(
          new Scratch.Source(
              name, Objects.requireNonNull(t.structure()), () -> file.rows(tables.indexOf(t), t)));
    }
    try (Scratch scratch = c.targets().scratch(at)) {
      try {
        scratch.open(Scratch.Place.proof(number), List.of(), c.targets().extensions(at));
        List<SchemaObject> objects = kept.objects();
        for (Scratch.Restored r : restored(scratch, sources, objects, file, backup)) {
          if (kept.beside().containsKey(r.table())) {
            continue; // only so that others can be made
          }
          BackupFile.Table t =
              tables.stream().filter(x -> x.table().equals(r.table())).findFirst().orElseThrow();
          if (r.rows() != t.rows() || !r.sum().hex().equals(t.sum())) {
            file.readBack(backup); // says so where it is the backup itself
            throw new IllegalStateException(
                "restored, "
                    + r.table()
                    + " has "
                    + Words.count(r.rows(), "row")
                    + " instead of "
                    + t.rows()
                    + ", or other content");
          }
          if (!r.structure().equals(t.structure())) {
            throw new IllegalStateException("restored, " + r.table() + " has another structure");
          }
          c.say(
              "Restored and compared "
                  + r.table()
                  + ": "
                  + Words.count(r.rows(), "row")
                  + (r.rows() == 1 ? " is equal" : " are equal"));
        }
        List<ComponentKey> wrong = scratch.otherwise(objects);
        if (!wrong.isEmpty()) {
          throw new IllegalStateException(
              "restored, " + wrong.get(0) + " differs from what was backed up");
        }
        int there = scratch.having(objects).size();
        if (there > 0) {
          c.say("Restored and compared " + Words.count(there, "schema object"));
        }
        if (there < objects.size()) {
          c.say(
              "Read back, not restored: "
                  + Words.count(objects.size() - there, "grant")
                  + " to the account of the scratch place");
        }
      } finally {
        scratch.drop(Scratch.Place.proof(number));
      }
    }
    c.book().outcome(number, Deed.PROVE, 1, at.id(), Outcome.RESTORED, "restored");
  }

  /** What is restored; a backup that cannot be, because it is damaged, is told from a server. */
  private static List<Scratch.Restored> restored(
      Scratch scratch,
      List<Scratch.Source> sources,
      List<SchemaObject> objects,
      BackupFile file,
      Run.Backup backup) {
    try {
      return scratch.restore(sources, objects);
    } catch (RuntimeException e) {
      file.readBack(backup);
      throw e;
    }
  }

  /**
   * Takes away the places that a run may have left; of files that is done with what it prepared.
   */
  public void forget(RunContext c) {
    if (!c.book().journal(c.number()).intended(Deed.PROVE)) {
      return;
    }
    for (Holder holder : List.of(Holder.HOST, Holder.DATABASE)) {
      if (c.switched().contains(holder)) {
        forget(c, holder);
      }
    }
  }

  private static void forget(RunContext c, Holder holder) {
    Targets.At at;
    try {
      at = c.place(holder);
    } catch (TargetFailed e) {
      if (e.notReachable()) {
        throw e;
      }
      c.say("What was restored to prove the backup may be left: " + e.getMessage());
      return;
    }
    if (holder == Holder.HOST) {
      try (ItemsChanging session = (ItemsChanging) c.targets().change(at)) {
        session.forgetAside(c.number());
      }
    } else if (!at.target().scratch().isEmpty()) {
      try (Scratch scratch = c.targets().scratch(at)) {
        scratch.drop(Scratch.Place.proof(c.number()));
      }
    }
  }
}
