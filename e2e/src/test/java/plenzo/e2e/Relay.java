package plenzo.e2e;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;

/**
 * A TCP relay between a process and PostgreSQL. When the n-th message that holds a text goes by, it
 * kills the process: before passing it on, after, or after swallowing the answer.
 */
final class Relay implements AutoCloseable {
  /** When the process is killed, seen from the message. */
  enum When {
    /** The message never arrives. */
    BEFORE,
    /** The message arrives; whether the answer does is open. */
    AFTER,
    /** The message arrived and was answered, but the answer is swallowed. */
    ANSWER_SWALLOWED,
    /** The message is on its way for a long time: it arrives after the process was restarted. */
    LATE,
    /** The message and everything after it, of everybody, waits until it is released. */
    HELD,
    /** The message arrives two seconds later, and nobody is killed. */
    AFTER_DELAY
  }

  /** What to wait for; an empty text matches every message. */
  record Trigger(String text, int occurrence, When when, Runnable kill) {
    Trigger {
      // the statement itself, which a zero byte ends; "READ COMMITTED" is another one
      text = text.equals("COMMIT") ? "COMMIT\0" : text;
    }
  }

  private final ServerSocket listener;
  private final int target;
  private final List<Socket> open = new ArrayList<>();
  private final List<Runnable> late = new ArrayList<>();
  private final AtomicInteger seen = new AtomicInteger();
  private final Object holding = new Object();
  private boolean held;
  private volatile boolean cut;
  private volatile @Nullable Trigger trigger;
  private volatile String swallowed = "nothing";

  Relay(int target) {
    this.target = target;
    try {
      listener = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    daemon(this::accept);
  }

  int port() {
    return listener.getLocalPort();
  }

  /** Arms the relay; the count of messages begins anew. */
  void arm(@Nullable Trigger next) {
    seen.set(0);
    trigger = next;
  }

  /** Messages that matched since it was armed. */
  int seen() {
    return seen.get();
  }

  boolean fired() {
    return trigger == null;
  }

  /** The answer that was swallowed last, as far as it can be printed. */
  String swallowed() {
    return swallowed;
  }

  /** From now on nothing passes, for anybody, and new connections are not answered. */
  void hold() {
    synchronized (holding) {
      held = true;
    }
  }

  /** The network is cut: every connection breaks, and no new one comes about. */
  void cut() {
    cut = true;
    synchronized (open) {
      open.forEach(Relay::close);
      open.clear();
    }
  }

  /** The network is there again. */
  void mend() {
    cut = false;
  }

  /** What was held passes. */
  void release() {
    synchronized (holding) {
      held = false;
      holding.notifyAll();
    }
  }

  private void passWhenReleased() throws InterruptedException {
    synchronized (holding) {
      while (held) {
        holding.wait();
      }
    }
  }

  /** Delivers what is late. */
  void deliverLate() {
    synchronized (late) {
      late.forEach(Runnable::run);
      late.clear();
    }
  }

  private static void daemon(Runnable work) {
    Thread t = new Thread(work);
    t.setDaemon(true);
    t.start();
  }

  private void accept() {
    while (!listener.isClosed()) {
      try {
        Socket client = listener.accept();
        if (cut) {
          close(client);
          continue;
        }
        Socket server = new Socket(InetAddress.getLoopbackAddress(), target);
        synchronized (open) {
          open.add(client);
          open.add(server);
        }
        boolean[] mute = {false};
        daemon(() -> up(client, server, mute));
        daemon(() -> down(server, client, mute));
      } catch (IOException e) {
        return;
      }
    }
  }

  private void up(Socket client, Socket server, boolean[] mute) {
    byte[] buffer = new byte[1 << 16];
    try {
      InputStream in = client.getInputStream();
      OutputStream out = server.getOutputStream();
      for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
        Trigger t = trigger;
        boolean matches =
            t != null && new String(buffer, 0, n, StandardCharsets.ISO_8859_1).contains(t.text());
        if (!matches || seen.incrementAndGet() != t.occurrence()) {
          passWhenReleased();
          out.write(buffer, 0, n);
          continue;
        }
        if (t.when() == When.HELD || t.when() == When.AFTER_DELAY) {
          trigger = null;
          t.kill().run();
          if (t.when() == When.AFTER_DELAY) {
            synchronized (this) {
              wait(2000);
            }
          }
          passWhenReleased();
          out.write(buffer, 0, n);
          continue;
        }
        trigger = null;
        byte[] message = java.util.Arrays.copyOf(buffer, n);
        switch (t.when()) {
          case HELD, AFTER_DELAY -> throw new IllegalStateException("handled above");
          case BEFORE -> t.kill().run();
          case AFTER -> {
            out.write(message);
            t.kill().run();
          }
          case ANSWER_SWALLOWED -> {
            synchronized (mute) {
              mute[0] = true;
            }
            out.write(message);
            synchronized (mute) {
              while (mute[0]) {
                mute.wait(5000);
              }
            }
            t.kill().run();
          }
          case LATE -> {
            synchronized (late) {
              late.add(
                  () -> {
                    try {
                      out.write(message);
                    } catch (IOException e) {
                      // the server ended the session: that is the point
                    }
                  });
            }
            t.kill().run();
            return;
          }
        }
        break;
      }
    } catch (IOException e) {
      // one side is gone
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    close(client);
    close(server);
  }

  private void down(Socket server, Socket client, boolean[] mute) {
    byte[] buffer = new byte[1 << 16];
    try {
      InputStream in = server.getInputStream();
      OutputStream out = client.getOutputStream();
      for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
        synchronized (mute) {
          if (mute[0]) {
            swallowed = printable(buffer, n);
            mute[0] = false;
            mute.notifyAll();
            continue;
          }
        }
        passWhenReleased();
        out.write(buffer, 0, n);
      }
    } catch (IOException e) {
      // one side is gone
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static String printable(byte[] buffer, int n) {
    return new String(buffer, 0, n, StandardCharsets.ISO_8859_1).replaceAll("[^ -~]", ".");
  }

  private static void close(Socket socket) {
    try {
      socket.close();
    } catch (IOException e) {
      // closed already
    }
  }

  @Override
  public void close() {
    try {
      listener.close();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    synchronized (open) {
      open.forEach(Relay::close);
    }
  }
}
