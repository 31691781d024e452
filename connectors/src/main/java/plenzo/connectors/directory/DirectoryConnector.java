package plenzo.connectors.directory;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.target.Access;
import plenzo.core.target.Aside;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsConnector;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.Probe;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;

/** Speaks to directories on a disk that this service reaches. */
public final class DirectoryConnector implements ItemsConnector {
  @Override
  public String sort() {
    return "directory";
  }

  @Override
  public Kind.Holder holder() {
    return Kind.Holder.DIRECTORY;
  }

  @Override
  public Set<Capability> capabilities() {
    return Set.of(Capability.UNDO, Capability.SCRATCH);
  }

  @Override
  public List<Probe> test(Access access, Trial trial) {
    Use use = trial.use();
    List<Probe> out = new ArrayList<>();
    Control control = new Control(access);
    Path path = control.published();
    boolean there = Files.isDirectory(path);
    out.add(
        new Probe(
            "folder",
            there,
            there ? path + " is a folder" : "There is no folder " + path,
            there ? "" : "Make it, or correct the path"));
    if (!there) {
      return out;
    }
    if (use == Use.CHANGING && !control.inPlace()) {
      boolean ready = control.switchable();
      out.add(
          new Probe(
              "can be exchanged",
              ready,
              ready
                  ? "It is a link to a tree, so a run exchanges all of it at once"
                  : "It is a plain folder, which cannot be exchanged in one act",
              ready ? "" : "Make it ready: plenzo connection ready, or use the mode \"in-place\""));
    }
    if (use == Use.CHANGING) {
      boolean writes = Files.isWritable(path) && Files.isWritable(path.getParent());
      out.add(
          new Probe(
              "may be written",
              writes,
              writes
                  ? "The service may write there and beside it"
                  : "The service may not write to "
                      + path
                      + " or beside it (as "
                      + System.getProperty("user.name")
                      + ")",
              writes ? "" : "Give the service's account the right to write there"));
    }
    out.add(new Readable(Files::isReadable).probe(path));
    identity(control, trial.expected(), out);
    return out;
  }

  private static void identity(
      Control control, @Nullable TargetIdentity expected, List<Probe> out) {
    Optional<TargetIdentity> found = control.identity();
    if (expected == null) {
      return;
    }
    boolean mine = found.isEmpty() || expected.isMarkedAs(found.get());
    out.add(
        new Probe(
            "identity",
            mine,
            found
                .map(
                    i ->
                        "This directory says it is "
                            + i.shown()
                            + " since "
                            + i.since().toString().substring(0, 10))
                .orElse("It has no marker yet; adopting writes one"),
            mine ? "" : "Wrong path, or a copy? Correct it, or remove " + control.folder()));
  }

  @Override
  public ItemsLooking look(Access access) {
    return new DirectoryLooking(new Control(access), access);
  }

  @Override
  public ItemsChanging change(Access access) {
    Control control = new Control(access);
    return control.inPlace() ? new InPlaceChanging(control) : new ExchangeChanging(control);
  }

  @Override
  public Aside aside(Access changing, long rehearsal) {
    return new DirectoryAside(this, changing, rehearsal);
  }

  @Override
  public String makeReady(Access access) {
    Control control = new Control(access);
    Path path = control.published();
    if (control.inPlace()) {
      return "The mode \"in-place\" needs nothing.";
    }
    try (Control.Held lock = control.lock("lock")) {
      Path first = control.trees().resolve("first");
      Files.createDirectories(control.trees());
      if (control.switchable()) {
        return path + " was ready already.";
      }
      if (Disk.exists(path)) {
        if (Disk.exists(first)) {
          throw new TargetFailed(
              "There is already a tree \"first\" beside " + path,
              false,
              new IllegalStateException(first.toString()));
        }
        Files.move(path, first);
      }
      // from here until the link is there nobody finds the folder: the cost that is said before
      Files.createSymbolicLink(path, path.getParent().relativize(first));
      Disk.flush(path.getParent());
      return path + " is a link now, and its files lie in " + first + ".";
    } catch (IOException e) {
      throw Control.failed(path + " cannot be made ready", e);
    }
  }
}
