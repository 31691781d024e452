package plenzo.connectors.directory;

import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.json.Json;
import plenzo.core.target.Delta;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.Leftover;
import plenzo.core.target.RunMark;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.SwitchRefused.Why;

/**
 * Builds a complete new tree beside the present one and moves the link to it. The name of the tree
 * is the marker: whoever reads the link knows which run is there. Files that a version owns and
 * that stay are shared between the two trees by hard link; everything else is copied, because an
 * application that appends in place would change both.
 */
final class ExchangeChanging extends DirectoryChanging {
  /** Stands for a seal in the list of what was seen. */
  private static final String FOLDER = "folder";

  private final Links links;

  ExchangeChanging(Control control) {
    this(control, Files::createLink);
  }

  ExchangeChanging(Control control, Links links) {
    super(control);
    this.links = links;
  }

  /** Makes one file appear under a second name. */
  interface Links {
    /**
     * @throws FileSystemException when the system makes no such link
     */
    void link(Path place, Path file) throws IOException;
  }

  @Override
  public void prepare(long run, Delta asked, Watch watch) {
    ItemsDelta delta = (ItemsDelta) asked;
    try {
      if (!control.switchable()) {
        throw new SwitchRefused(
            Why.REFUSED,
            control.published() + " is a plain folder and cannot be exchanged",
            List.of("Make it ready in the set-up"));
      }
      control.refuseTaken(run);
      Path old = control.present();
      Disk.remove(control.tree(run));
      Disk.remove(control.run(run));
      Files.createDirectories(control.run(run));
      Prepared.write(control.run(run).resolve("changes"), delta.changes());
      Disk.write(control.run(run).resolve("before"), old.getFileName().toString());
      new Building(run, delta, watch, old).build();
    } catch (IOException e) {
      throw Control.failed("The new tree beside " + control.published() + " cannot be built", e);
    }
  }

  /** One new tree under construction. */
  private final class Building {
    private final long run;
    private final ItemsDelta delta;
    private final Watch watch;
    private final Path old;
    private final Path fresh;
    private final Map<String, ItemsDelta.Change> changes = new HashMap<>();
    private final List<String> moved = new ArrayList<>();
    private final List<Path> folders = new ArrayList<>();
    private long done;

    Building(long run, ItemsDelta delta, Watch watch, Path old) {
      this.run = run;
      this.delta = delta;
      this.watch = watch;
      this.old = old;
      this.fresh = control.tree(run);
      delta.changes().forEach(c -> changes.put(c.key().name(), c));
    }

    void build() throws IOException {
      Files.createDirectories(fresh);
      folders.add(fresh);
      Set<String> met = new HashSet<>();
      try (BufferedWriter seen = Files.newBufferedWriter(control.run(run).resolve("seen"))) {
        Tree.walk(
            old,
            "",
            (name, path, stat) -> {
              alive(watch);
              Path place = fresh.resolve(old.relativize(path).toString());
              if (stat.folder()) {
                Files.createDirectory(place);
                Files.setPosixFilePermissions(place, Files.getPosixFilePermissions(path));
                folders.add(place);
                seen.write(name + "\t" + FOLDER + "\n");
                return;
              }
              if (changes.containsKey(name)) {
                met.add(name);
              }
              seen.write(name + "\t" + carry(name, path, place, stat) + "\n");
            });
      }
      for (ItemsDelta.Change c : delta.changes()) {
        if (!met.contains(c.key().name())) {
          if (c.present() != null) {
            moved.add(c.key().name());
          } else {
            add(c);
          }
        }
      }
      if (!moved.isEmpty()) {
        throw moved(moved);
      }
      for (ItemsDelta.Change c : delta.changes()) {
        if (c.incoming() == null) {
          folders.removeAll(Tree.removeEmpty(fresh, c.key().name()));
        }
      }
      for (int i = folders.size() - 1; i >= 0; i--) {
        Disk.flush(folders.get(i));
      }
      Disk.flush(control.trees());
      Disk.flush(control.run(run));
    }

    /** Carries one present file over; returns the seal that it must still have at the switch. */
    private String carry(String name, Path path, Path place, Tree.Stat stat) throws IOException {
      ItemsDelta.Change change = changes.get(name);
      if (change != null) {
        if (!stat.seal().equals(change.seal())) {
          moved.add(name);
        } else if (change.incoming() != null) {
          write(change, place);
        }
        return stat.seal();
      }
      String owned = delta.owned().get(new ComponentKey(Kind.FILE, name));
      if (owned != null && stat.plain()) {
        if (!owned.equals(stat.seal())) {
          moved.add(name);
          return stat.seal();
        }
        try {
          links.link(place, path);
          return Tree.Stat.of(path).seal(); // linking changes the change time
        } catch (FileSystemException e) {
          // of a file that another account owns the system makes no link; it has too many
        }
      }
      Tree.copy(path, place, stat);
      return stat.seal();
    }

    private void add(ItemsDelta.Change change) throws IOException {
      Path place = Tree.resolve(fresh, change.key().name());
      folders(place.getParent());
      write(change, place);
    }

    private void folders(Path folder) throws IOException {
      if (!Disk.exists(folder)) {
        folders(folder.getParent());
        Files.createDirectory(folder);
        folders.add(folder);
        Disk.flush(folder.getParent());
      }
    }

    private void write(ItemsDelta.Change change, Path place) throws IOException {
      alive(watch);
      var incoming = java.util.Objects.requireNonNull(change.incoming());
      Tree.write(place, delta.source().open(Kind.FILE, incoming), incoming, change.key().name());
      watch.rows(++done);
    }
  }

  @Override
  public void switchOver(RunMark mark, Delta asked, Watch watch) {
    ItemsDelta delta = (ItemsDelta) asked;
    long run = mark.run();
    try (Control.Held lock = control.lock("lock")) {
      control.refuseVoid(run);
      Path old = control.present();
      Path fresh = control.tree(run);
      String before = Files.readString(control.run(run).resolve("before"));
      if (!old.getFileName().toString().equals(before)) {
        throw new SwitchRefused(
            Why.MOVED, control.published() + " leads to another tree by now", List.of());
      }
      carryWhatMoved(run, delta, old, fresh);
      alive(watch);
      control.mark(mark, before, Instant.now());
      watch.beforeCommit();
      link(fresh);
    } catch (IOException e) {
      throw Control.failed(control.published() + " cannot be switched", e);
    }
  }

  /** Moves the link in one act: it leads to the one tree or to the other, never to nothing. */
  private void link(Path tree) throws IOException {
    Path published = control.published();
    Path aside = control.folder().resolve("link");
    Files.deleteIfExists(aside);
    Files.createSymbolicLink(aside, published.getParent().relativize(tree));
    Files.move(
        aside, published, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
    Disk.flush(published.getParent());
  }

  /** Walks the present tree again beside what was seen when the new one was built. */
  private void carryWhatMoved(long run, ItemsDelta delta, Path old, Path fresh) throws IOException {
    Set<String> planned = new HashSet<>();
    delta.changes().forEach(c -> planned.add(c.key().name()));
    List<String> owned = new ArrayList<>();
    try (BufferedReader in =
        Files.newBufferedReader(control.run(run).resolve("seen"), StandardCharsets.UTF_8)) {
      Seen seen = new Seen(in);
      Tree.walk(
          old,
          "",
          (name, path, stat) -> {
            while (seen.name != null && Tree.compare(seen.name, name) < 0) {
              gone(seen, delta, planned, owned, fresh);
              seen.next();
            }
            boolean known = name.equals(seen.name);
            boolean same = known && (stat.folder() ? FOLDER : stat.seal()).equals(seen.seal);
            if (known) {
              seen.next();
            }
            if (!same && stat.folder()) {
              Path place = Tree.resolve(fresh, name);
              Files.createDirectories(place);
              Disk.flush(place.getParent());
            } else if (!same) {
              if (planned.contains(name)
                  || delta.owned().containsKey(new ComponentKey(Kind.FILE, name))) {
                owned.add(name);
              } else {
                Path place = Tree.resolve(fresh, name);
                Files.createDirectories(place.getParent());
                Tree.copy(path, place, stat);
                Disk.flush(place.getParent());
              }
            }
          });
      while (seen.name != null) {
        gone(seen, delta, planned, owned, fresh);
        seen.next();
      }
    }
    if (!owned.isEmpty()) {
      throw moved(owned);
    }
  }

  private static void gone(
      Seen seen, ItemsDelta delta, Set<String> planned, List<String> owned, Path fresh)
      throws IOException {
    String name = java.util.Objects.requireNonNull(seen.name);
    if (seen.seal.equals(FOLDER)) {
      return; // an empty folder that is gone there may stay here
    }
    if (planned.contains(name) || delta.owned().containsKey(new ComponentKey(Kind.FILE, name))) {
      owned.add(name);
    } else {
      Path place = Tree.resolve(fresh, name);
      Files.deleteIfExists(place);
      Disk.flush(place.getParent());
    }
  }

  /** Reads the list of what was seen, line by line. */
  private static final class Seen {
    private final BufferedReader in;
    private @Nullable String name;
    private String seal = "";

    Seen(BufferedReader in) throws IOException {
      this.in = in;
      next();
    }

    void next() throws IOException {
      String line = in.readLine();
      if (line == null) {
        name = null;
        return;
      }
      int tab = line.lastIndexOf('\t');
      name = line.substring(0, tab);
      seal = line.substring(tab + 1);
    }
  }

  @Override
  boolean settled(RunMark mark) throws IOException {
    return control.switchable()
        && (control.present().equals(control.tree(mark.run()))
            || control.replacedLater(mark.run()));
  }

  @Override
  public void undo(RunMark mark) {
    try (Control.Held lock = control.lock("lock")) {
      Json.Obj marked = control.marked(mark.run());
      Path present = control.present();
      if (marked == null || present.getFileName().toString().equals(marked.text("before"))) {
        return; // it never switched, or is back already
      }
      Path fresh = control.tree(mark.run());
      if (!present.equals(fresh)) {
        throw new SwitchRefused(
            Why.MOVED, control.published() + " leads to the tree of a later run", List.of());
      }
      List<Prepared> changes = Prepared.read(control.run(mark.run()).resolve("changes"));
      List<String> touched = touched(fresh, changes);
      if (!touched.isEmpty()) {
        throw touchedSince(touched);
      }
      Path old = control.trees().resolve(marked.text("before"));
      carryBack(fresh, old, changes);
      link(old);
    } catch (IOException e) {
      throw Control.failed(control.published() + " cannot be switched back", e);
    }
  }

  /** What others wrote since the switch goes along to the old tree. */
  private static void carryBack(Path fresh, Path old, List<Prepared> changes) throws IOException {
    Set<String> own = new HashSet<>();
    changes.forEach(c -> own.add(c.name()));
    Tree.walk(
        fresh,
        "",
        (name, path, stat) -> {
          if (stat.folder() || own.contains(name)) {
            return;
          }
          Path place = Tree.resolve(old, name);
          Tree.Stat there = Tree.find(place);
          boolean same =
              there != null
                  && there.size() == stat.size()
                  && there.modified().equals(stat.modified());
          if (!same) {
            Files.createDirectories(place.getParent());
            Tree.copy(path, place, stat);
            Disk.flush(place.getParent());
          }
        });
    List<Path> gone = new ArrayList<>();
    Tree.walk(
        old,
        "",
        (name, path, stat) -> {
          if (!stat.folder() && !own.contains(name) && !Disk.exists(Tree.resolve(fresh, name))) {
            gone.add(path);
          }
        });
    for (Path path : gone) {
      Files.delete(path);
    }
  }

  /** That tree or folder alone, and never the published one. */
  @Override
  public void clear(Leftover leftover) {
    try (Control.Held lock = control.lock("lock")) {
      for (Leftover l : control.leftovers()) {
        if (l.name().equals(leftover.name())) {
          Disk.remove(control.folder().resolve(l.name()));
        }
      }
    } catch (IOException e) {
      throw Control.failed(leftover.name() + " beside " + control.published() + " stays", e);
    }
  }

  @Override
  public void discard(long run) {
    removeProof(run);
    try (Control.Held lock = control.lock("lock")) {
      Path present = control.present();
      if (!Files.isDirectory(control.trees())) {
        return;
      }
      List<Path> trees;
      try (var all = Files.list(control.trees())) {
        trees = all.toList();
      }
      boolean applied = present.equals(control.tree(run));
      for (Path tree : trees) {
        if (!tree.equals(present) && (applied || tree.equals(control.tree(run)))) {
          Disk.remove(tree);
        }
      }
      Disk.remove(control.run(run));
    } catch (IOException e) {
      throw Control.failed("What was prepared beside " + control.published() + " stays", e);
    }
  }
}
