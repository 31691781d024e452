package plenzo.engine.running;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.run.Run;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.TableOrder;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Scratch;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.setup.Targets;

/** Restores a backup in the scratch place and compares every row. */
final class Proof {
  private final Targets targets;
  private final RunBook book;

  Proof(Targets targets, RunBook book) {
    this.targets = targets;
    this.book = book;
  }

  /**
   * @return what the backup is from now on: "proven"
   * @throws IllegalStateException when what was restored is not what was backed up
   */
  String restore(long number, Targets.At at, BackupFile file, Run.Backup backup) {
    List<BackupFile.Table> tables = file.tables(backup.digest());
    Map<TableName, TableStructure> structures = new java.util.LinkedHashMap<>();
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
    return "proven";
  }

  /** Takes away the scratch place that a run may have left. */
  void forget(long number, SiteKey site) {
    targets.find(site, Kind.Holder.DATABASE).ifPresent(at -> forget(number, at));
  }

  private void forget(long number, Targets.At at) {
    if (at.target().scratch().isEmpty()
        || book.journal(number).stream().noneMatch(j -> j.step().equals("prove"))) {
      return;
    }
    try (Scratch scratch = targets.scratch(at)) {
      scratch.drop(number);
    }
  }
}
