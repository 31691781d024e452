package plenzo.server.security;

import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletInputStream;
import java.io.IOException;
import java.util.concurrent.TimeUnit;

/** A body that has to come at a minimum pace. */
final class PacedStream extends ServletInputStream {
  /** Until the pace is asked for (guess: more than a bad line needs for a page's call). */
  static final long GRACE_MILLIS = 5_000;

  /** Bytes a second (guess: a slow telephone line). */
  static final long PACE = 4_000;

  private final ServletInputStream in;
  private final long began = System.nanoTime();
  private long read;

  PacedStream(ServletInputStream in) {
    this.in = in;
  }

  private int counted(int n) throws IOException {
    read += Math.max(n, 0);
    long millis = TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - began);
    if (n >= 0 && millis > GRACE_MILLIS + read * 1000 / PACE) {
      throw new TooSlow();
    }
    return n;
  }

  @Override
  public int read() throws IOException {
    int b = in.read();
    counted(b < 0 ? -1 : 1);
    return b;
  }

  @Override
  public int read(byte[] to, int from, int length) throws IOException {
    return counted(in.read(to, from, length));
  }

  @Override
  public boolean isFinished() {
    return in.isFinished();
  }

  @Override
  public boolean isReady() {
    return in.isReady();
  }

  @Override
  public void setReadListener(ReadListener listener) {
    in.setReadListener(listener);
  }
}
