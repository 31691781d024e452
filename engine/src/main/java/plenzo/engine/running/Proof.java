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
import plenzo.core.run.Run;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.TableOrder;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.Scratch;
import plenzo.core.words.Words;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.backup.BackupIncoming;
import plenzo.engine.setup.Targets;

/**
 * Restores a backup: rows in the scratch place, files in a folder beside the tree, and compares all
 * of it. Definitions have no such place in the host protocol.
 */
final class Proof {
  private static final String PROVE = "prove";

  private final Targets targets;
  private final RunBook book;

  Proof(Targets targets, RunBook book) {
    this.targets = targets;
    this.book = book;
  }

  /**
   * @param each told before each file; may throw to stop
   * @return what the backup is from now on: "proven", "proven but for 2 definitions, read back
   *     only", or "read back, not restored"
   * @throws IllegalStateException when what was restored is not what was backed up
   */
  String prove(Run run, BackupFile file, Run.Backup backup, Runnable each) {
    boolean restored = false;
    List<String> readBack = new ArrayList<>();
    if (!backup.tables().isEmpty()) {
      Targets.At database = targets.find(run.site(), Holder.DATABASE).orElse(null);
      if (database == null || database.target().scratch().isEmpty()) {
        readBack.add(Words.count(backup.rows(), "row"));
      } else {
        rows(run.number(), database, file, backup);
        restored = true;
      }
    }
    BackupIncoming kept = new BackupIncoming(file, backup);
    Map<ComponentKey, Digest> files = new LinkedHashMap<>();
    long definitions = 0;
    for (ComponentKey key : kept.components()) {
      Digest content = kept.item(key);
      if (content != null && key.kind() == Kind.FILE) {
        files.put(key, content);
      } else if (content != null) {
        definitions++;
      }
    }
    if (!files.isEmpty()) {
      files(run, files, kept, each);
      restored = true;
    }
    if (definitions > 0) {
      readBack.add(Words.count(definitions, "definition"));
    }
    if (readBack.isEmpty()) {
      return "proven";
    }
    return restored
        ? "proven but for " + String.join(" and ", readBack) + ", read back only"
        : "read back, not restored";
  }

  private void files(Run run, Map<ComponentKey, Digest> files, BackupIncoming kept, Runnable each) {
    long number = run.number();
    Targets.At at = targets.find(run.site(), Holder.DIRECTORY).orElseThrow();
    String words = Words.count(files.size(), "file");
    book.intent(number, PROVE, 1, at.shown(), null, "Restore " + words + " beside the tree");
    try (ItemsChanging session = (ItemsChanging) targets.change(at)) {
      List<ComponentKey> wrong = session.restoreAside(number, files, kept.contents(), each);
      if (!wrong.isEmpty()) {
        throw new IllegalStateException(
            "restored, "
                + wrong.get(0)
                + (wrong.size() == 1 ? "" : " and " + (wrong.size() - 1) + " more")
                + " differ from what was backed up");
      }
    }
    book.outcome(number, PROVE, 1, at.shown(), "restored");
    book.say(number, "Restored and compared " + words + " of " + at.shown());
  }

  private void rows(long number, Targets.At at, BackupFile file, Run.Backup backup) {
    book.intent(number, PROVE, 1, at.shown(), null, "Restore the backup in the scratch place");
    List<BackupFile.Table> tables = file.tables(backup.digest());
    Map<TableName, TableStructure> structures = new LinkedHashMap<>();
    tables.stream()
        .filter(t -> t.structure() != null)
        .forEach(t -> structures.put(t.table(), t.structure()));
    List<Scratch.Source> sources = new ArrayList<>();
    for (TableName name : TableOrder.parentsFirst(structures, List.of())) {
      BackupFile.Table t =
          tables.stream().filter(x -> x.table().equals(name)).findFirst().orElseThrow();
      sources.add(
          new Scratch.Source(
              name, Objects.requireNonNull(t.structure()), () -> file.rows(tables.indexOf(t), t)));
    }
    try (Scratch scratch = targets.scratch(at)) {
      try {
        scratch.open(number);
        for (Scratch.Restored r : scratch.restore(sources)) {
          BackupFile.Table t =
              tables.stream().filter(x -> x.table().equals(r.table())).findFirst().orElseThrow();
          if (r.rows() != t.rows() || !r.sum().hex().equals(t.sum())) {
            throw new IllegalStateException(
                "restored, "
                    + r.table()
                    + " has "
                    + r.rows()
                    + " rows instead of "
                    + t.rows()
                    + ", or other content");
          }
          if (!r.structure().equals(t.structure())) {
            throw new IllegalStateException("restored, " + r.table() + " has another structure");
          }
          book.say(
              number, "Restored and compared " + r.table() + ": " + r.rows() + " rows are equal");
        }
      } finally {
        scratch.drop(number);
      }
    }
    book.outcome(number, PROVE, 1, at.shown(), "restored");
  }

  /** Takes away the scratch place that a run may have left. */
  void forget(long number, SiteKey site) {
    targets.find(site, Holder.DATABASE).ifPresent(at -> forget(number, at));
  }

  private void forget(long number, Targets.At at) {
    if (at.target().scratch().isEmpty()
        || book.journal(number).stream().noneMatch(j -> j.step().equals(PROVE))) {
      return;
    }
    try (Scratch scratch = targets.scratch(at)) {
      scratch.drop(number);
    }
  }
}
