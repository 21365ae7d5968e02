"""
Boundary elements for bodies of revolution that sound evenly all around: direct collocation with
constant elements on rings (Kirchhoff and Helmholtz), CHIEF points inside (Schenck 1968), an infinite
wall at z = 0 as an image if wanted. e^{+jwt}, G = e^{-jkr}/(4 pi r).

Writes proud.csv, rim.csv and blunt.csv beside it: python3 axisymmetric.py
"""
import os
import numpy as np
from numpy.polynomial.legendre import leggauss

def mesh(poly, hmax, fine=None):
    """poly: list of (r,z); returns element ends."""
    pts=[poly[0]]
    for (r0,z0),(r1,z1) in zip(poly[:-1],poly[1:]):
        L=np.hypot(r1-r0,z1-z0); n=max(1,int(np.ceil(L/hmax)))
        # graded to both ends
        t=(1-np.cos(np.pi*np.arange(1,n+1)/n))/2
        t=0.5*t+0.5*np.arange(1,n+1)/n
        for u in t: pts.append((r0+u*(r1-r0),z0+u*(z1-z0)))
    return np.array(pts)

gx,gw=leggauss(6)
def kernels(rx,zx,r,z,nr,nz,k,phi,wphi,image):
    """integrals over phi of G and dG/dn, arrays over source points (r,z)."""
    c=np.cos(phi)[None,:]
    out=0
    G=0;H=0
    for s in ((1,),( -1,))[:2 if image else 1]:
        zz=z[:,None] if s[0]==1 else -z[:,None]
        nzz=nz[:,None] if s[0]==1 else -nz[:,None]
        R2=rx*rx+r[:,None]**2-2*rx*r[:,None]*c+(zx-zz)**2
        R=np.sqrt(R2)
        g=np.exp(-1j*k*R)/(4*np.pi*R)
        dRdn=((r[:,None]-rx*c)*nr[:,None]+(zz-zx)*nzz)/R
        h=-(1j*k+1/R)*g*dRdn
        G=G+g; H=H+h
    return (G*wphi).sum(1),(H*wphi).sum(1)

def phirule(d, r):
    """graded rule on 0..pi (doubled) with resolution d/r near 0"""
    a=max(1e-4,min(1,d/max(r,1e-9)))
    edges=[0]; 
    x=a
    while x<np.pi: edges.append(x); x*=2
    edges.append(np.pi)
    xs,ws=leggauss(8)
    P=[];W=[]
    # extra split of long pieces
    ed=[edges[0]]
    for b in edges[1:]:
        n=max(1,int(np.ceil((b-ed[-1])/0.25)))
        base=ed[-1]
        for i in range(1,n+1): ed.append(base+(b-base)*i/n)
    for a0,b0 in zip(ed[:-1],ed[1:]):
        P.append((a0+b0)/2+(b0-a0)/2*xs); W.append((b0-a0)/2*ws)
    return np.concatenate(P),2*np.concatenate(W)

class Body:
    def __init__(self,poly,hmax,piston,image=False,chief=()):
        e=mesh(poly,hmax); self.e=e
        self.a=e[:-1]; self.b=e[1:]
        self.mid=(self.a+self.b)/2; d=self.b-self.a; self.L=np.hypot(*d.T)
        self.n=np.c_[-d[:,1],d[:,0]]/self.L[:,None]
        self.image=image; self.chief=chief
        self.v=(self.mid[:,0]<piston[0])&(abs(self.mid[:,1]-piston[1])<1e-9)
    def row(self,rx,zx,k,selfi=None):
        N=len(self.L); G=np.zeros(N,complex); H=np.zeros(N,complex)
        dist=np.hypot(self.mid[:,0]-rx,self.mid[:,1]-zx)
        for j in range(N):
            near=dist[j]<4*self.L[j]
            if j==selfi: # split at middle, graded
                segs=[]
                for s in (-1,1):
                    x=1.0
                    while x>2**-9: segs.append((s*x/2,s*x)); x/=2
                    segs.append((0,s*x))
            elif near: segs=[(-1+2*i/6,-1+2*(i+1)/6) for i in range(6)]
            else: segs=[(-1,1)]
            for s0,s1 in segs:
                if s0>s1: s0,s1=s1,s0
                t=(s0+s1)/2+(s1-s0)/2*gx; w=(s1-s0)/2*gw*self.L[j]/2
                p=self.mid[j][None,:]+t[:,None]*(self.b[j]-self.a[j])[None,:]/2
                dd=np.min(np.hypot(p[:,0]-rx,p[:,1]-zx))
                phi,wp=phirule(dd*0.5,max(rx,1e-6))
                nn=self.n[j]
                g,h=kernels(rx,zx,p[:,0],p[:,1],np.full(len(t),nn[0]),np.full(len(t),nn[1]),k,phi,wp,self.image)
                G[j]+=(w*p[:,0]*g).sum(); H[j]+=(w*p[:,0]*h).sum()
        return G,H
    def solve(self,k):
        N=len(self.L); A=[];B=[]
        q=np.where(self.v,-1j*k,0)
        for i in range(N):
            G,H=self.row(*self.mid[i],k,i)
            r=-H; r[i]+=0.5
            A.append(r); B.append(-(G*q).sum())
        for c in self.chief:
            G,H=self.row(*c,k); A.append(-H*1.0); B.append(-(G*q).sum())
        p=np.linalg.lstsq(np.array(A),np.array(B),rcond=None)[0]
        self.p=p;self.q=q;self.k=k
    def far(self,theta):
        """far pressure times R e^{jkR}, from (r,z) in direction theta off +z"""
        k=self.k; out=0
        phi=np.linspace(0,2*np.pi,181)[:-1]; wp=2*np.pi/180
        for j in range(len(self.L)):
            t=gx; w=gw*self.L[j]/2
            p=self.mid[j][None,:]+t[:,None]*(self.b[j]-self.a[j])[None,:]/2
            for s in ((1,-1) if self.image else (1,)):
                z=s*p[:,1]; nz=s*self.n[j][1]
                proj=p[:,0][:,None]*np.cos(phi)[None,:]*np.sin(theta)+z[:,None]*np.cos(theta)
                dn=self.n[j][0]*np.cos(phi)[None,:]*np.sin(theta)+nz*np.cos(theta)
                ph=np.exp(1j*k*proj)/(4*np.pi)
                I=(self.p[j]*1j*k*dn*ph-self.q[j]*ph).sum(1)*wp
                out+=(w*p[:,0]*I).sum()
        return out
def wallref(k,a):
    """piston velocity 1 (q=-jk) in wall, on axis: 2 * S/(4 pi) * jk"""
    return 2*1j*k*np.pi*a*a/(4*np.pi)


C = 343.2
PISTON = 0.0125
HERE = os.path.dirname(os.path.abspath(__file__))


def levels(body, hz):
    k = 2 * np.pi * hz / C
    body.solve(k)
    return [(deg, 20 * np.log10(abs(body.far(np.radians(deg)) / wallref(k, PISTON)))) for deg in (0, 30, 60)]


def write(name, header, cases, frequencies):
    with open(os.path.join(HERE, name), 'w') as out:
        out.write(header + ',freq_hz,angle_deg,mag_db\n')
        for label, body in cases:
            for hz in frequencies:
                for deg, db in levels(body, hz):
                    out.write(f'{label},{hz},{deg},{db:.3f}\n')


if __name__ == '__main__':
    frame = 0.052
    inside = lambda h: [(0.0, h * 0.4), (0.02, h * 0.5), (0.035, h * 0.45)]
    proud = [
        (f'{1000 * h:g}', Body([(0, h), (PISTON, h), (frame, h), (frame, 0)], 0.0035, (PISTON, h), True, inside(h)))
        for h in (0.004, 0.002)
    ]
    write('proud.csv', 'height_mm', proud, [1000, 1500, 2000, 2500, 3000, 3500, 4000, 5000, 6000, 7000, 8000, 10000, 12000])
    R, D, r = 0.12, 0.2, 0.02
    chief = [(0.0, -0.07), (0.05, -0.13), (0.07, -0.05), (0.03, -0.17), (0.09, -0.11)]
    arc = [(R - r + r * np.sin(t), -r + r * np.cos(t)) for t in np.linspace(0, np.pi / 2, 7)]
    ends = {'sharp': [(R, 0)], 'round': arc, 'chamfer': [(R - r, 0), (R, -r)]}
    rims = [
        (kind, Body([(0, 0), (PISTON, 0), *corner, (R, -D), (0, -D)], 0.011, (PISTON, 0), False, chief))
        for kind, corner in ends.items()
    ]
    write('rim.csv', 'rim', rims, [200, 400, 600, 800, 1000, 1200, 1400, 1700, 2000, 2400, 2800, 3300, 4000, 5000])
    low = [(0.0, -0.07), (0.05, -0.13), (0.04, -0.06), (0.03, -0.17), (0.07, -0.11)]
    rounded = lambda r: [(R, 0)] if r == 0 else [(R - r + r * np.sin(t), -r + r * np.cos(t)) for t in np.linspace(0, np.pi / 2, 9)]
    blunt = [
        (f'{1000 * r:g}', Body([(0, 0), (PISTON, 0), *rounded(r), (R, -D), (0, -D)], 0.011, (PISTON, 0), False, low))
        for r in (0.0, 0.02, 0.04)
    ]
    write('blunt.csv', 'radius_mm', blunt, [100, 200, 300, 400, 500])
