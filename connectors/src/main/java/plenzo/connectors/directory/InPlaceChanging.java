package plenzo.connectors.directory;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import plenzo.core.component.Kind;
import plenzo.core.target.Delta;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.Leftover;
import plenzo.core.target.RunMark;

/**
 * Exchanges file by file, each in one act: the present file is copied aside and flushed, then the
 * new one is moved over it. The journal's line "end" is what makes the run applied; without it,
 * settling puts every copy back. For applications that write inside the published tree.
 */
final class InPlaceChanging extends DirectoryChanging {
  private static final String BEGIN = "begin";
  private static final String END = "end";
  private static final String UNDONE = "undone";

  InPlaceChanging(Control control) {
    super(control);
  }

  private Path fresh(long run, int n) {
    return control.run(run).resolve("new").resolve(String.valueOf(n));
  }

  private Path aside(long run, int n) {
    return control.run(run).resolve("old").resolve(String.valueOf(n));
  }

  private Path journal(long run) {
    return control.run(run).resolve("journal");
  }

  private List<String> journaled(long run) throws IOException {
    return Files.exists(journal(run)) ? Files.readAllLines(journal(run)) : List.of();
  }

  @Override
  public void prepare(long run, Delta asked, Watch watch) {
    ItemsDelta delta = (ItemsDelta) asked;
    try {
      control.refuseTaken(run);
      Disk.remove(control.run(run));
      Files.createDirectories(control.run(run).resolve("new"));
      Files.createDirectories(control.run(run).resolve("old"));
      Prepared.write(control.run(run).resolve("changes"), delta.changes());
      for (int n = 0; n < delta.changes().size(); n++) {
        alive(watch);
        ItemsDelta.Change c = delta.changes().get(n);
        if (c.incoming() != null) {
          Tree.write(
              fresh(run, n),
              delta.source().open(Kind.FILE, c.incoming()),
              c.incoming(),
              c.key().name());
        }
        watch.rows(n + 1L);
      }
      Disk.flush(control.run(run).resolve("new"));
      Disk.flush(control.run(run));
    } catch (IOException e) {
      throw Control.failed("The new files beside " + control.published() + " cannot be written", e);
    }
  }

  @Override
  public void switchOver(RunMark mark, Delta asked, Watch watch) {
    ItemsDelta delta = (ItemsDelta) asked;
    long run = mark.run();
    try (Control.Held lock = control.lock("lock")) {
      control.refuseVoid(run);
      refuseMoved(delta);
      alive(watch);
      watch.beforeCommit();
      control.mark(mark, "", Instant.now());
      Disk.append(journal(run), BEGIN);
      Disk.flush(control.run(run));
      for (int n = 0; n < delta.changes().size(); n++) {
        exchange(run, n, delta.changes().get(n));
      }
      Disk.append(journal(run), END);
    } catch (IOException e) {
      throw Control.failed(control.published() + " cannot be switched", e);
    }
  }

  private void refuseMoved(ItemsDelta delta) throws IOException {
    List<String> moved = new ArrayList<>();
    for (ItemsDelta.Change c : delta.changes()) {
      Tree.Stat stat = Tree.find(Tree.resolve(control.published(), c.key().name()));
      if (!Objects.equals(stat == null ? null : stat.seal(), c.seal())) {
        moved.add(c.key().name());
      }
    }
    if (!moved.isEmpty()) {
      throw moved(moved);
    }
  }

  private void exchange(long run, int n, ItemsDelta.Change change) throws IOException {
    Path place = Tree.resolve(control.published(), change.key().name());
    Tree.Stat stat = Tree.find(place);
    if (stat != null) {
      Tree.copy(place, aside(run, n), stat);
      Disk.flush(aside(run, n).getParent());
    }
    if (change.incoming() == null) {
      Files.deleteIfExists(place);
      Tree.removeEmpty(control.published(), change.key().name());
    } else {
      Files.createDirectories(place.getParent());
      Files.move(
          fresh(run, n),
          place,
          StandardCopyOption.ATOMIC_MOVE,
          StandardCopyOption.REPLACE_EXISTING);
    }
    if (Disk.exists(place.getParent())) {
      Disk.flush(place.getParent());
    }
  }

  @Override
  boolean settled(RunMark mark) throws IOException {
    List<String> lines = journaled(mark.run());
    if (lines.contains(BEGIN) && !lines.contains(END) && !lines.contains(UNDONE)) {
      putBack(mark.run());
    }
    return !lines.contains(UNDONE) && (lines.contains(END) || Files.exists(applied(mark.run())));
  }

  /** Stays when the run's folder is discarded, so that settling says the same for ever. */
  private Path applied(long run) {
    return control.folder().resolve("applied").resolve("run-" + run);
  }

  /** Puts every copy back; repeatable, because copies stay until the run is discarded. */
  private void putBack(long run) throws IOException {
    List<Prepared> changes = Prepared.read(control.run(run).resolve("changes"));
    for (int n = changes.size() - 1; n >= 0; n--) {
      Prepared p = changes.get(n);
      Path place = Tree.resolve(control.published(), p.name());
      Tree.Stat old = Tree.find(aside(run, n));
      if (old != null) {
        Path part = control.run(run).resolve("back");
        Files.deleteIfExists(part);
        Tree.copy(aside(run, n), part, old);
        Files.createDirectories(place.getParent());
        Files.move(
            part, place, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
      } else if (p.present() == null && !Disk.exists(fresh(run, n))) {
        Files.deleteIfExists(place); // it was moved there by the run
        Tree.removeEmpty(control.published(), p.name());
      }
      if (Disk.exists(place.getParent())) {
        Disk.flush(place.getParent());
      }
    }
    Disk.append(journal(run), UNDONE);
  }

  @Override
  public void undo(RunMark mark) {
    try (Control.Held lock = control.lock("lock")) {
      List<String> lines = journaled(mark.run());
      if (!lines.contains(END) || lines.contains(UNDONE)) {
        return;
      }
      Path changes = control.run(mark.run()).resolve("changes");
      List<String> touched = touched(control.published(), Prepared.read(changes));
      if (!touched.isEmpty() && !backing(mark.run())) {
        throw touchedSince(touched);
      }
      Disk.append(journal(mark.run()), "back");
      putBack(mark.run());
    } catch (IOException e) {
      throw Control.failed(control.published() + " cannot be switched back", e);
    }
  }

  /** Whether putting back had begun and was killed: then what differs is of our own making. */
  private boolean backing(long run) throws IOException {
    return journaled(run).contains("back");
  }

  @Override
  public void clear(Leftover leftover) {
    if (leftover.sort() != Leftover.Sort.REHEARSAL) {
      discard(leftover.run());
      return;
    }
    try {
      Disk.remove(control.rehearsal(leftover.run()));
    } catch (IOException e) {
      throw Control.failed(leftover.name() + " beside " + control.published() + " stays", e);
    }
  }

  @Override
  public void discard(long run) {
    removeProof(run);
    try (Control.Held lock = control.lock("lock")) {
      List<String> lines = journaled(run);
      if (lines.contains(BEGIN) && !lines.contains(END) && !lines.contains(UNDONE)) {
        putBack(run);
      }
      if (lines.contains(END) && !lines.contains(UNDONE)) {
        Disk.write(applied(run), "");
      }
      Disk.remove(control.run(run));
    } catch (IOException e) {
      throw Control.failed("What was prepared beside " + control.published() + " stays", e);
    }
  }
}
