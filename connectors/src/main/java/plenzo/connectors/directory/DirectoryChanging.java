package plenzo.connectors.directory;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.target.Doors;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.RunMark;
import plenzo.core.target.Settled;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.SwitchRefused.Why;
import plenzo.core.target.TargetIdentity;

/** What both ways of changing a directory share. One thread, except cutting. */
abstract class DirectoryChanging implements ItemsChanging {
  final Control control;
  private volatile boolean cut;
  private Control.@Nullable Held claim;

  DirectoryChanging(Control control) {
    this.control = control;
  }

  @Override
  public void declare(TargetIdentity identity, String lookingAccount) {
    control.declare(identity);
  }

  @Override
  public void claim() {
    claim = control.lock("claim");
  }

  /**
   * @throws SwitchRefused when a person asked to abort or the session was cut
   */
  void alive(Watch watch) {
    if (cut || watch.abortAsked().getAsBoolean()) {
      throw new SwitchRefused(Why.ABORTED, "The run was aborted", List.of());
    }
  }

  static SwitchRefused moved(List<String> names) {
    List<String> shown = new ArrayList<>(names.subList(0, Math.min(20, names.size())));
    if (names.size() > shown.size()) {
      shown.add("and " + (names.size() - shown.size()) + " more");
    }
    return new SwitchRefused(
        Why.MOVED,
        names.size() == 1
            ? "A file moved since the plan was made"
            : names.size() + " files moved since the plan was made",
        shown.stream().map(n -> "file/" + n).toList());
  }

  /** Files that the run wrote and that are no longer so. */
  static List<String> touched(Path root, List<Prepared> changes) throws IOException {
    List<String> out = new ArrayList<>();
    for (Prepared p : changes) {
      if (!p.asWritten(root)) {
        out.add(p.name());
      }
    }
    return out;
  }

  static SwitchRefused touchedSince(List<String> names) {
    return new SwitchRefused(
        Why.MOVED,
        names.size() == 1
            ? "A file that the run wrote was changed since"
            : names.size() + " files that the run wrote were changed since",
        names.stream().limit(20).map(n -> "file/" + n).toList());
  }

  @Override
  public List<ComponentKey> restoreAside(
      long run, Map<ComponentKey, Digest> pieces, ItemsDelta.Source source, Runnable each) {
    List<ComponentKey> wrong = new ArrayList<>();
    Path proof = control.proof(run);
    try {
      Disk.remove(proof);
      for (Map.Entry<ComponentKey, Digest> piece : pieces.entrySet()) {
        each.run();
        if (!restored(proof, piece.getKey().name(), piece.getValue(), source)) {
          wrong.add(piece.getKey());
        }
      }
    } catch (IOException e) {
      throw Control.failed("Nothing can be restored beside " + control.published(), e);
    } finally {
      removeProof(run);
    }
    return wrong;
  }

  /** Writes one file and reads it again; it takes its room for that long only. */
  private static boolean restored(Path proof, String name, Digest content, ItemsDelta.Source source)
      throws IOException {
    Path place = Tree.resolve(proof, name);
    Files.createDirectories(place.getParent());
    try {
      Tree.write(place, source.open(Kind.FILE, content), content, name);
      return Tree.digest(place, Tree.Stat.of(place)).equals(content);
    } catch (IllegalStateException e) {
      return false; // what was kept is no longer this content
    } finally {
      Files.deleteIfExists(place);
    }
  }

  /** Takes away what a proof that was killed has left. */
  void removeProof(long run) {
    try {
      Disk.remove(control.proof(run));
    } catch (IOException e) {
      throw Control.failed("What was restored beside " + control.published() + " stays", e);
    }
  }

  abstract boolean settled(RunMark mark) throws IOException;

  @Override
  public Settled settle(RunMark mark, List<String> sessions) {
    try (Control.Held lock = control.lock("lock")) {
      if (control.another(mark)) {
        return Settled.ANOTHER; // its mark is left as it is: it tells what is there
      }
      boolean applied = settled(mark);
      if (!applied) {
        control.makeVoid(mark.run());
      }
      return applied ? Settled.APPLIED : Settled.VOID;
    } catch (IOException e) {
      throw Control.failed(control.published() + " cannot be settled", e);
    } catch (SwitchRefused e) {
      // somebody is in the middle of it: not known now, asked again later
      throw Control.failed(control.published() + " cannot be asked", e);
    }
  }

  @Override
  public void maintenance(boolean on, long run, Doors doors, String notice) {
    try {
      if (on) {
        control.close(doors.names().get(0), notice);
      } else {
        control.open();
      }
    } catch (IOException e) {
      throw Control.failed(
          "The file that says that "
              + control.published()
              + " is closed cannot be "
              + (on ? "put there" : "taken away"),
          e);
    }
  }

  @Override
  public void activation(ComponentKey key, boolean active) {
    throw new UnsupportedOperationException("A file is neither on nor off");
  }

  @Override
  public String session() {
    return "";
  }

  @Override
  public void abort() {
    // the watch is asked between two files
  }

  @Override
  public void cut() {
    cut = true;
  }

  @Override
  public void close() {
    if (claim != null) {
      claim.close();
    }
  }
}
